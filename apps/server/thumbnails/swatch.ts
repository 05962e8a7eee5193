import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { frameImageId } from '@owl-loom/engine/graph';
import { contentKey } from '@owl-loom/base/content-hash';
import { userMessageOf, UserError } from '@owl-loom/base/errors';
import { parseRecipe } from '@owl-loom/recipe/parse';
import { type Swatch, SwatchEntity } from '../storage/db/entities';
import { writeAtomically } from '../system/write-atomically';
import { resolveNode } from '../render/render';
import { buildGraphInput } from '../render/build-graph-input';
import type { JobHandler, JobRun } from '../queue/job-work';
import { openStacks } from '../services/stacks';
import type { Services } from '../services/services';
import { renderThumbnail } from './render-thumbnail';
import { ensureIntact } from '../storage/integrity';

export const swatchesDir = (root: string): string => join(root, 'swatches');

/** Pixels across that a swatch's picture has at least, where the stacks have as many: it is looked at large. */
const ACROSS = 1400;

/** Has a swatch's picture woven. */
export const requestSwatchPicture = async (services: Services, { id, targetId, name }: Swatch): Promise<void> => {
  const payload = { swatchId: id };
  if (!(await services.jobs.isPending('swatch', targetId, payload)))
    await services.jobs.add('swatch', targetId, `swatch ${name}`, payload);
};

/**
 * Weaves the picture of a kept state, once: it stays what it was when the state was kept.
 * @returns null where the swatch is gone, or has its picture
 */
export async function renderSwatchPicture(
  services: Services,
  swatchId: string,
  run: Pick<JobRun, 'signal' | 'progress'>,
): Promise<{ swatchId: string; picture: string } | null> {
  const table = services.data.getRepository(SwatchEntity);
  const swatch = await table.findOneBy({ id: swatchId });
  if (!swatch || swatch.picture) return null;
  try {
    const recipe = parseRecipe(swatch.body);
    await ensureIntact(services, swatch.targetId, { recipe });
    const { graph, scene } = buildGraphInput(recipe, await openStacks(services, swatch.targetId));
    const node = resolveNode(graph, recipe);
    const bytes = await renderThumbnail(services, { graph, scene, recipe, node }, run, ACROSS);
    const picture = `${swatchId}.${contentKey(frameImageId(graph, node))}.jpg`;
    await writeAtomically(join(swatchesDir(services.root), picture), [bytes]);
    await table.update(swatchId, { picture, trouble: null });
    // It may have been removed while it was woven.
    if (!(await table.exists({ where: { id: swatchId }, withDeleted: true })))
      await dropPictures(services, [{ picture }]);
    return { swatchId, picture };
  } catch (error) {
    if (error instanceof UserError && !run.signal.aborted)
      await table.update(swatchId, { trouble: userMessageOf(error).slice(0, 500) });
    throw error;
  }
}

/** {@link renderSwatchPicture} as a job. */
export const swatchJob =
  (services: Services): JobHandler<'swatch'> =>
  (run) =>
    renderSwatchPicture(services, run.payload.swatchId, run);

/** Takes the pictures of removed swatches away. */
export async function dropPictures(services: Services, swatches: readonly Pick<Swatch, 'picture'>[]): Promise<void> {
  await services.deletionLock.deleteWhenAllowed(async () => {
    for (const { picture } of swatches)
      if (picture) await rm(join(swatchesDir(services.root), picture), { force: true });
  });
}
