import { Tooltip } from 'radix-ui';
import { StrictMode, Suspense } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { BrowserRouter, Route, Routes, useLocation } from 'react-router';
import { Exports, Health, Loom, preloadOnIntent, Stacks, Swatches, Trash } from './app/screens';
import { Shelf } from './shelf/Shelf';
import { TargetDoor } from './shelf/TargetDoor';
import { useServerEvents } from './app/events';
import { store, useAppSelector } from './store/store';
import { Unlock } from './health/Unlock';
import { Trouble } from './ui/ErrorText';
import { Loading } from './ui/Loading';
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
      says="This page cannot be shown because of an error in Owl Loom. Saved work is not affected."
      resetOn={[pathname]}
    >
      <Suspense fallback={<Loading />}>
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
      </Suspense>
    </Guarded>
  );
}

preloadOnIntent();

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
