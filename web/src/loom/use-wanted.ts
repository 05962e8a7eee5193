import { useEffect } from 'react';
import type { Wanted } from '../../../core/engine/plan';
import type { Recipe } from '../../../core/recipe/schema';
import { accountOf } from './account';
import { useSession } from './session';

/** Has the noise of a woven image measured, where it does not follow from that of the strands. */
export function useNoiseWanted(path: string, isWanted: boolean): void {
  const { engine, scene } = useSession();
  const linear = scene?.paths[path]?.domain === 'linear';
  useEffect(() => {
    if (!isWanted || !linear) return undefined;
    engine.wants.set('woven noise', [{ figure: 'tone', path }]);
    return () => {
      engine.wants.delete('woven noise');
    };
  }, [engine, path, isWanted, linear]);
}

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

/** Has what the noise account stands on measured with the picture, as long as that is looked at; else it comes after the proof. */
export function useAccountWanted(recipe: Recipe): void {
  const { engine, scene } = useSession();
  useEffect(() => {
    engine.wants.set(
      'account',
      accountOf(recipe, (path) => scene?.paths[path]?.domain),
    );
    return () => {
      engine.wants.delete('account');
    };
  }, [engine, scene, recipe]);
}
