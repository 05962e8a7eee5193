import { existsSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { UserError } from '@owl-loom/base/errors';
import type { Recipe } from '@owl-loom/recipe/schema';
import { type Stack, StackEntity } from './db/entities';
import { levelFile } from '../pixels/pyramid-files';
import type { IntegrityState } from '../pixels/tile-checksums';
import { pyramidDir } from '../render/pyramid';
import { isCachedImage } from './disk-image-cache';
import { missingFileError } from './original-file';
import { logMaintenance } from './maintenance-log';
import { pixelId } from '../services/stacks';
import type { Services } from '../services/services';

/** The stack that pixels are of, be it in the trash. */
async function stackOfPixels(services: Services, pixels: string): Promise<Stack | undefined> {
  const rows = await services.data.getRepository(StackEntity).find({ withDeleted: true });
  return rows.find((row) => pixelId(row) === pixels);
}

/**
 * Has a stack's pixels made anew, and waits for it.
 * @throws UserError where they cannot be had
 */
async function mend(services: Services, { id: stackId, targetId, name }: Stack, why: string): Promise<void> {
  const payload = { stackId, why };
  // It has a place of its own in the queue, so those that wait for it never stand in its way.
  const job = await services.jobs.add('mend', targetId, name, payload);
  const { state, message } = await services.jobs.waitForEnd(job.id);
  if (state !== 'done') throw new UserError('file-lacking', message ?? `Pixel data of ${name} is damaged.`);
}

/** {@link mend}, whatever the pixels are like; who reads them meanwhile waits for it. */
export const repairNow = (services: Services, stack: Stack, why: string): Promise<void> =>
  services.integrityChecks.begin(pixelId(stack), () => mend(services, stack, why));

/** Looks at a stack's pixels, whatever was found before, and has them made anew where they are not what was written. */
const look = (services: Services, stack: Stack, interactive: boolean): Promise<void> =>
  services.integrityChecks.begin(pixelId(stack), async () => {
    const found = await checkPyramidOf(services, stack, interactive);
    if (typeof found === 'object') await mend(services, stack, found.why);
  });

/**
 * Waits until a stack's pixels are what was written; it is looked at once in a run, and made anew where it is not.
 * @param interactive the screen waits for it
 * @throws UserError where they cannot be had: what to do
 */
function whole(services: Services, stack: Stack, interactive: boolean): Promise<void> {
  const id = pixelId(stack);
  const { integrityChecks: looks, root } = services;
  // What was taken away since is looked at again; it costs nothing to see that.
  const there = (): boolean => looks.isRunning(id) || existsSync(join(pyramidDir(root, id), levelFile(0)));
  const known = looks.get(id);
  return known && there() ? known : look(services, stack, interactive);
}

/** Waits until a stack's pixels are what was written; false where they cannot be had. */
export async function isIntact(services: Services, stack: Stack): Promise<boolean> {
  try {
    await whole(services, stack, false);
    return true;
  } catch (error) {
    if (!(error instanceof UserError)) throw error;
    return false;
  }
}

/** Looks at a stack's pixels anew, and mends them where that is needed and can be done. */
export const recheck = (services: Services, stack: Stack): Promise<void> =>
  look(services, stack, true).catch((error: unknown) => services.log.warn(error, 'pixels could not be made anew'));

/**
 * Someone read pixels that are not what was written, or found none.
 * @returns what to say: that they are being made anew, or that there is no way to have them
 */
export async function onCorruptPixels(services: Services, pixels: string, why: string): Promise<UserError> {
  const stack = await stackOfPixels(services, pixels);
  if (!stack) {
    if (isCachedImage(services.root, pixels)) {
      await rm(pyramidDir(services.root, pixels), { recursive: true, force: true });
      await logMaintenance(
        services,
        'mended',
        `A cached image was damaged (${why}) and removed. It is re-created when needed.`,
      );
    }
    return new UserError('no-pixels', 'Pixel data not found.');
  }
  if (!services.integrityChecks.isRunning(pixels)) {
    if (stack.lacking) return missingFileError(stack);
    void recheck(services, stack);
  }
  return new UserError('pixels-mending', `Pixel data of ${stack.name} is damaged and being rebuilt.`);
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
  services: Services,
  targetId: string,
  { recipe, interactive = false }: { recipe?: Recipe; interactive?: boolean } = {},
): Promise<void> {
  const names = recipe && stackNames(recipe);
  const rows = await services.data.getRepository(StackEntity).findBy({ targetId });
  const wanted = rows.filter(({ name }) => names?.has(name) ?? true);
  await Promise.all(wanted.map((row) => whole(services, row, interactive)));
}

/** Pixels as they were found, of a stack: for whoever goes through everything. */
export const checkPyramidOf = (services: Services, stack: Stack, interactive = false): Promise<IntegrityState> =>
  services.pool.check(pyramidDir(services.root, pixelId(stack)), { interactive });
