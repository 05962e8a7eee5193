import { useLocation } from 'react-router';
import { Toaster } from 'sonner';

/** Screens with a picture at the left, below whose first lines there are no controls. */
const PICTURED = /^\/targets\/[^/]+\/(stacks|loom|swatches)/;

/** Where messages lie: over the picture where there is one, since what is pressed lies around it; else in a corner. */
export function Messages() {
  const pictured = PICTURED.test(useLocation().pathname);
  return (
    <Toaster
      theme="dark"
      position={pictured ? 'top-left' : 'bottom-right'}
      offset={pictured ? { top: 104, left: 'calc((100vw - 20.5rem - 356px) / 2)' } : undefined}
      toastOptions={{
        style: {
          background: 'var(--color-shelf)',
          border: '1px solid var(--color-rim)',
          color: 'var(--color-text)',
          fontFamily: 'var(--font-sans)',
        },
        actionButtonStyle: { background: 'var(--color-edge)', color: 'var(--color-text)' },
      }}
    />
  );
}
