import type { ReactNode } from 'react';
import { ErrorBoundary } from 'react-error-boundary';
import { Button } from './controls';

/**
 * Keeps an error of ours in one part of the page from taking the rest of it away; the browser's console has it whole.
 * @param says what cannot be shown, and what the person still has
 * @param resetOn tries again when it changes
 */
export function Guarded({
  says,
  resetOn,
  children,
}: {
  says: string;
  resetOn: readonly unknown[];
  children: ReactNode;
}) {
  return (
    <ErrorBoundary
      resetKeys={[...resetOn]}
      fallbackRender={({ resetErrorBoundary }) => (
        <div role="alert" className="flex size-full flex-col items-start gap-3 bg-board p-4">
          <p>{says}</p>
          <div className="flex gap-2">
            <Button small onClick={resetErrorBoundary}>
              Try again
            </Button>
            <Button small onClick={() => location.reload()}>
              Load the page again
            </Button>
          </div>
        </div>
      )}
    >
      {children}
    </ErrorBoundary>
  );
}
