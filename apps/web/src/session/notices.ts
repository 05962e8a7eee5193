import type { RecipeDiagnostic } from '@owl-loom/engine/graph';
import type { RecipeInfo } from '../../worker/protocol';

/** What is wrong with the open recipe: what cannot be made, what could not be measured, what may look wrong. */
export const noticesOf = (scene: Omit<RecipeInfo, 'hashes'> | undefined): readonly RecipeDiagnostic[] =>
  scene ? [...scene.faults, ...scene.unfinished.failures, ...scene.warnings] : [];

/** Why the image at a path cannot be finished, where a measurement that it depends on failed. */
export function obstacleAt(scene: Omit<RecipeInfo, 'hashes'> | undefined, path: string): string | undefined {
  if (!scene?.unfinished.paths.includes(path)) return undefined;
  return `Cannot be finished. ${scene.unfinished.failures.map(({ message }) => message).join(' ')}`;
}
