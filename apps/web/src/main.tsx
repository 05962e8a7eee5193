import { Tooltip } from 'radix-ui';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { BrowserRouter, Route, Routes, useLocation } from 'react-router';
import { Swatches } from './swatches/Swatches';
import { warmEngine } from './engine/worker-client';
import { Exports } from './exports/Exports';
import { Loom } from './loom/Loom';
import { Shelf } from './shelf/Shelf';
import { TargetDoor } from './shelf/TargetDoor';
import { Stacks } from './stacks/Stacks';
import { useServerEvents } from './store/events';
import { store, useAppSelector } from './store/store';
import { Health } from './health/Health';
import { Trash } from './health/Trash';
import { Unlock } from './health/Unlock';
import { Trouble } from './ui/ErrorText';
import { Messages } from './ui/Messages';
import { Guarded } from './ui/ErrorBoundary';
import './styles.css';

function App() {
  useServerEvents();
  const locked = useAppSelector((state) => state.live.locked);
  const { pathname } = useLocation();
  if (locked) return <Unlock />;
  return (
    <Guarded
      says="This page cannot be shown: something in Owl Loom went wrong. All that was kept is as it was."
      resetOn={[pathname]}
    >
      <Routes>
        <Route path="/" element={<Shelf />} />
        <Route path="/targets/:id" element={<TargetDoor />} />
        <Route path="/targets/:id/stacks" element={<Stacks />} />
        <Route path="/targets/:id/loom/:recipe" element={<Loom />} />
        <Route path="/targets/:id/swatches" element={<Swatches />} />
        <Route path="/targets/:id/exports" element={<Exports />} />
        <Route path="/health" element={<Health />} />
        <Route path="/trash" element={<Trash />} />
        <Route path="*" element={<Trouble message="There is nothing at this address." />} />
      </Routes>
    </Guarded>
  );
}

// Its code is read while the first requests are under way.
warmEngine();

const root = document.getElementById('root');
if (!root) throw new Error('the page has no root');
createRoot(root).render(
  <StrictMode>
    <Provider store={store}>
      <Tooltip.Provider delayDuration={500}>
        <BrowserRouter>
          <App />
          <Messages />
        </BrowserRouter>
      </Tooltip.Provider>
    </Provider>
  </StrictMode>,
);
