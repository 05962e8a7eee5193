import { useEffect } from 'react';
import type { Wanted } from '../../../core/engine/plan';
import { useSession } from './session';

/** Has a figure measured at full size, beside the picture, as long as it is looked at. */
export function useWanted(figure: Wanted['figure'], path: string): void {
  const { engine } = useSession();
  useEffect(() => {
    engine.wants.set(figure, [{ figure, path }]);
    return () => {
      engine.wants.delete(figure);
    };
  }, [engine, figure, path]);
}
