import { useEffect } from 'react';
import type { RequestedMeasurement } from '@owl-loom/engine/measurement-plan';
import type { Recipe } from '@owl-loom/recipe/schema';
import { noiseRequests } from './noise-measurements';
import { useSession } from './session';

/** Has the noise of a woven image measured, where it does not follow from that of the strands. */
export function useNoiseWanted(path: string, isWanted: boolean): void {
  const { engine, scene } = useSession();
  const linear = scene?.paths[path]?.domain === 'linear';
  useEffect(() => {
    if (!isWanted || !linear) return undefined;
    engine.requestedMeasurements.set('woven noise', [{ figure: 'tone', path }]);
    return () => {
      engine.requestedMeasurements.delete('woven noise');
    };
  }, [engine, path, isWanted, linear]);
}

/** Has a measurement measured at full size, beside the picture, as long as it is looked at. */
export function useRequestedMeasurement(figure: RequestedMeasurement['figure'], path: string): void {
  const { engine } = useSession();
  useEffect(() => {
    engine.requestedMeasurements.set(figure, [{ figure, path }]);
    return () => {
      engine.requestedMeasurements.delete(figure);
    };
  }, [engine, figure, path]);
}

/** Has what the noise account stands on measured with the picture, as long as that is looked at; else it comes after the proof. */
export function useNoiseMeasurements(recipe: Recipe): void {
  const { engine, scene } = useSession();
  useEffect(() => {
    engine.requestedMeasurements.set(
      'account',
      noiseRequests(recipe, (path) => scene?.paths[path]?.domain),
    );
    return () => {
      engine.requestedMeasurements.delete('account');
    };
  }, [engine, scene, recipe]);
}
