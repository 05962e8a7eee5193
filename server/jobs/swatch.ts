import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { pictureId } from '../../core/engine/graph';
import { keyOf } from '../../core/engine/hash';
import { sentenceOf, UserError } from '../../core/errors';
import { parseRecipe } from '../../core/recipe/parse';
import { type Swatch, SwatchEntity } from '../db/entities';
import { writeWhole } from '../io/write';
import { nodeNamed } from '../render/render';
import { sceneOf } from '../render/scene';
import type { JobHandler, JobRun } from './jobs';
import { openStacks, type Studio } from './studio';
import { wovenSmall } from './woven-small';
import { seeWhole } from './wholeness';

export const swatchesDir = (root: string): string => join(root, 'swatches');

/** Pixels across that a swatch's picture has at least, where the stacks have as many: it is looked at large. */
const ACROSS = 1400;

export const swatchPayload = z.strictObject({ swatchId: z.string().max(36) });

/** Has a swatch's picture woven. */
export const weaveSwatch = async (studio: Studio, { id, targetId, name }: Swatch): Promise<void> => {
  const payload: z.infer<typeof swatchPayload> = { swatchId: id };
  if (!(await studio.jobs.isComing('swatch', targetId, payload)))
    await studio.jobs.add('swatch', targetId, `swatch ${name}`, payload);
};

/**
 * Weaves the picture of a kept state, once: it stays what it was when the state was kept.
 * @returns null where the swatch is gone, or has its picture
 */
export async function wovenSwatch(
  studio: Studio,
  swatchId: string,
  run: Pick<JobRun, 'signal' | 'progress'>,
): Promise<{ swatchId: string; picture: string } | null> {
  const table = studio.data.getRepository(SwatchEntity);
  const swatch = await table.findOneBy({ id: swatchId });
  if (!swatch || swatch.picture) return null;
  try {
    const recipe = parseRecipe(swatch.body);
    await seeWhole(studio, swatch.targetId, { recipe });
    const { graph, scene } = sceneOf(recipe, await openStacks(studio, swatch.targetId));
    const node = nodeNamed(graph, recipe);
    const bytes = await wovenSmall(studio, { graph, scene, recipe, node }, run, ACROSS);
    const picture = `${swatchId}.${keyOf(pictureId(graph, node))}.jpg`;
    await writeWhole(join(swatchesDir(studio.root), picture), [bytes]);
    await table.update(swatchId, { picture, trouble: null });
    // It may have been removed while it was woven.
    if (!(await table.exists({ where: { id: swatchId }, withDeleted: true })))
      await dropPictures(studio, [{ picture }]);
    return { swatchId, picture };
  } catch (fault) {
    if (fault instanceof UserError && !run.signal.aborted)
      await table.update(swatchId, { trouble: sentenceOf(fault).slice(0, 500) });
    throw fault;
  }
}

/** {@link wovenSwatch} as a job. */
export const swatchJob =
  (studio: Studio): JobHandler =>
  (run) =>
    wovenSwatch(studio, swatchPayload.parse(run.job.payload).swatchId, run);

/** Takes the pictures of removed swatches away. */
export async function dropPictures(studio: Studio, swatches: readonly Pick<Swatch, 'picture'>[]): Promise<void> {
  await studio.hold.whenFree(async () => {
    for (const { picture } of swatches) if (picture) await rm(join(swatchesDir(studio.root), picture), { force: true });
  });
}
