import { existsSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { z } from 'zod';
import { UserError } from '#base/errors';
import type { Recipe } from '#recipe/schema';
import { type Stack, StackEntity } from './db/entities';
import { levelFile } from '../render/pyramid-files';
import type { IntegrityState } from '../render/tile-checksums';
import { pyramidDir } from '../render/pyramid';
import { isCachedImage } from './disk-image-cache';
import { missingFileError, type mendPayload } from '../jobs/repair';
import { logMaintenance } from '../maintenance/log';
import { type Services, pixelId } from '../services';

/** The stack that pixels are of, be it in the trash. */
async function stackOfPixels(studio: Services, pixels: string): Promise<Stack | undefined> {
  const rows = await studio.data.getRepository(StackEntity).find({ withDeleted: true });
  return rows.find((row) => pixelId(row) === pixels);
}

/**
 * Has a stack's pixels made anew, and waits for it.
 * @throws UserError where they cannot be had
 */
async function mend(studio: Services, { id: stackId, targetId, name }: Stack, why: string): Promise<void> {
  const payload: z.infer<typeof mendPayload> = { stackId, why };
  // It has a place of its own in the queue, so those that wait for it never stand in its way.
  const job = await studio.jobs.add('mend', targetId, name, payload);
  const { state, message } = await studio.jobs.waitForEnd(job.id);
  if (state !== 'done') throw new UserError('file-lacking', message ?? `The pixels of ${name} are not whole.`);
}

/** {@link mend}, whatever the pixels are like; who reads them meanwhile waits for it. */
export const repairNow = (studio: Services, stack: Stack, why: string): Promise<void> =>
  studio.integrityChecks.begin(pixelId(stack), () => mend(studio, stack, why));

/** Looks at a stack's pixels, whatever was found before, and has them made anew where they are not what was written. */
const look = (studio: Services, stack: Stack, interactive: boolean): Promise<void> =>
  studio.integrityChecks.begin(pixelId(stack), async () => {
    const found = await checkPyramidOf(studio, stack, interactive);
    if (typeof found === 'object') await mend(studio, stack, found.why);
  });

/**
 * Waits until a stack's pixels are what was written; it is looked at once in a run, and made anew where it is not.
 * @param interactive the screen waits for it
 * @throws UserError where they cannot be had: what to do
 */
function whole(studio: Services, stack: Stack, interactive: boolean): Promise<void> {
  const id = pixelId(stack);
  const { integrityChecks: looks, root } = studio;
  // What was taken away since is looked at again; it costs nothing to see that.
  const there = (): boolean => looks.isRunning(id) || existsSync(join(pyramidDir(root, id), levelFile(0)));
  const known = looks.get(id);
  return known && there() ? known : look(studio, stack, interactive);
}

/** Looks at a stack's pixels anew, and mends them where that is needed and can be done. */
export const recheck = (studio: Services, stack: Stack): Promise<void> =>
  look(studio, stack, true).catch((fault: unknown) => studio.log.warn(fault, 'pixels could not be made anew'));

/**
 * Someone read pixels that are not what was written, or found none.
 * @returns what to say: that they are being made anew, or that there is no way to have them
 */
export async function onCorruptPixels(studio: Services, pixels: string, why: string): Promise<UserError> {
  const stack = await stackOfPixels(studio, pixels);
  if (!stack) {
    if (isCachedImage(studio.root, pixels)) {
      await rm(pyramidDir(studio.root, pixels), { recursive: true, force: true });
      await logMaintenance(
        studio,
        'mended',
        `An image that was kept was damaged (${why}); it is made anew when it is wanted.`,
      );
    }
    return new UserError('no-pixels', 'These pixels are not on this disk.');
  }
  if (!studio.integrityChecks.isRunning(pixels)) {
    if (stack.lacking) return missingFileError(stack);
    void recheck(studio, stack);
  }
  return new UserError('pixels-mending', `The pixels of ${stack.name} were damaged; they are being made anew.`);
}

/** Names of the stacks that a recipe reads, wherever they stand in it. */
function stackNames(recipe: Recipe): Set<string> {
  const names = new Set<string>();
  JSON.stringify(recipe, (key, value: unknown) => {
    if ((key === 'stack' || key === 'partner') && typeof value === 'string') names.add(value);
    return value;
  });
  return names;
}

/**
 * Waits until the pixels that a recipe reads are whole.
 * @throws UserError where some cannot be had
 */
export async function ensureIntact(
  studio: Services,
  targetId: string,
  { recipe, interactive = false }: { recipe?: Recipe; interactive?: boolean } = {},
): Promise<void> {
  const names = recipe && stackNames(recipe);
  const rows = await studio.data.getRepository(StackEntity).findBy({ targetId });
  const wanted = rows.filter(({ name }) => names?.has(name) ?? true);
  await Promise.all(wanted.map((row) => whole(studio, row, interactive)));
}

/** Pixels as they were found, of a stack: for whoever goes through everything. */
export const checkPyramidOf = (studio: Services, stack: Stack, interactive = false): Promise<IntegrityState> =>
  studio.pool.check(pyramidDir(studio.root, pixelId(stack)), { interactive });
