import type { Domain } from '@owl-loom/image/pixel-function';
import type { RequestedMeasurement } from '@owl-loom/engine/measurement-plan';
import { strandOwners, strandsReadBySource } from '@owl-loom/recipe/walk';
import type { Recipe } from '@owl-loom/recipe/schema';

/** Tones of images, as far as they are linear: brightening and the noise account ask for them of those alone. */
export const backgroundRequests = (
  paths: readonly string[],
  domainOf: (path: string) => Domain | undefined,
): RequestedMeasurement[] =>
  [...new Set(paths)]
    .filter((of) => domainOf(of) === 'linear')
    .slice(0, 90)
    .map((of): RequestedMeasurement => ({ figure: 'tone', path: of }));

/** The tones of strands, and of the stacks that they come from: what the noise account of the tie-up stands on. */
export const noiseRequests = (recipe: Recipe, domainOf: (path: string) => Domain | undefined): RequestedMeasurement[] =>
  backgroundRequests(
    strandOwners(recipe).flatMap(({ path, source, sourcePath }) => [
      path,
      ...(source && 'stack' in source ? [sourcePath] : []),
    ]),
    domainOf,
  );

/** Steps after which what is left of the noise is no longer Gaussian: shares that are added up as squares say too little of a mix. */
const BENDS: ReadonlySet<string> = new Set(['denoise', 'structures', 'deconvolve']);

/** Whether a strand, or one that it is made from, has been denoised. */
export function isDenoised(recipe: Recipe, id: string, seen: readonly string[] = []): boolean {
  const owner = strandOwners(recipe).find((one) => one.id === id);
  if (!owner || seen.includes(id)) return false;
  if (owner.steps.some((step) => !step.off && BENDS.has(step.do))) return true;
  return (
    owner.source !== undefined &&
    strandsReadBySource(owner.source).some((other) => isDenoised(recipe, other, [...seen, id]))
  );
}
