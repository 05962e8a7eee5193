import { existsSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { z } from 'zod';
import { UserError } from '../../core/errors';
import type { Recipe } from '../../core/recipe/schema';
import { type Stack, StackEntity } from '../db/entities';
import { type Wholeness, levelFile } from '../render/sums';
import { pyramidDir } from '../render/pyramid';
import { isImageMade } from './kept-images';
import { lackingFault, type mendPayload } from './mend';
import { note } from './notes';
import { type Studio, pixelId } from './studio';

/** The stack that pixels are of, be it in the trash. */
async function stackOfPixels(studio: Studio, pixels: string): Promise<Stack | undefined> {
  const rows = await studio.data.getRepository(StackEntity).find({ withDeleted: true });
  return rows.find((row) => idOf(row) === pixels);
}

const idOf = (stack: Stack): string => pixelId(stack);

async function see(studio: Studio, stack: Stack, urgent: boolean): Promise<void> {
  const found = await foundWhole(studio, stack, urgent);
  if (typeof found === 'object') await mend(studio, stack, found.why);
}

/**
 * Has a stack's pixels made anew, and waits for it.
 * @throws UserError where they cannot be had
 */
export async function mend(studio: Studio, stack: Stack, why: string): Promise<void> {
  const { id: stackId, targetId, name } = stack;
  const payload: z.infer<typeof mendPayload> = { stackId, why };
  studio.mending.add(idOf(stack));
  try {
    // It has a place of its own in the queue, so those that wait for it never stand in its way.
    const job = await studio.jobs.add('mend', targetId, name, payload);
    const { state, message } = await studio.jobs.end(job.id);
    if (state !== 'done') throw new UserError('file-lacking', message ?? `The pixels of ${name} are not whole.`);
  } finally {
    studio.mending.delete(idOf(stack));
  }
}

/**
 * Waits until a stack's pixels are what was written; it is looked at once in a run, and made anew where it is not.
 * @param urgent the screen waits for it
 * @throws UserError where they cannot be had: what to do
 */
function whole(studio: Studio, stack: Stack, urgent: boolean): Promise<void> {
  const id = idOf(stack);
  const known = studio.whole.get(id);
  // What was taken away since is looked at again; it costs nothing to see that.
  if (known && (studio.mending.has(id) || existsSync(join(pyramidDir(studio.root, id), levelFile(0))))) return known;
  const seeing = see(studio, stack, urgent);
  studio.whole.set(id, seeing);
  // What failed is looked at again the next time: the file may have been brought.
  seeing.catch(() => {
    if (studio.whole.get(id) === seeing) studio.whole.delete(id);
  });
  return seeing;
}

/** Looks at a stack's pixels anew, whatever was found before, and mends them where that is needed and can be done. */
export async function seeAgain(studio: Studio, stack: Stack): Promise<void> {
  studio.whole.delete(idOf(stack));
  await whole(studio, stack, true).catch((fault: unknown) => studio.log.warn(fault, 'pixels could not be made anew'));
}

/**
 * Someone read pixels that are not what was written, or found none.
 * @returns what to say: that they are being made anew, or that there is no way to have them
 */
export async function doubted(studio: Studio, pixels: string, why: string): Promise<UserError> {
  const { mending } = studio;
  const stack = await stackOfPixels(studio, pixels);
  if (!stack) {
    if (isImageMade(studio.root, pixels)) {
      await rm(pyramidDir(studio.root, pixels), { recursive: true, force: true });
      await note(studio, 'mended', `An image that was kept was damaged (${why}); it is made anew when it is wanted.`);
    }
    return new UserError('no-pixels', 'These pixels are not on this disk.');
  }
  if (stack.lacking && !mending.has(pixels)) return lackingFault(stack);
  if (!mending.has(pixels)) {
    mending.add(pixels);
    seeAgain(studio, stack).finally(() => mending.delete(pixels));
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
export async function seeWhole(
  studio: Studio,
  targetId: string,
  { recipe, urgent = false }: { recipe?: Recipe; urgent?: boolean } = {},
): Promise<void> {
  const names = recipe && stackNames(recipe);
  const rows = await studio.data.getRepository(StackEntity).findBy({ targetId });
  const wanted = rows.filter(({ name }) => names?.has(name) ?? true);
  await Promise.all(wanted.map((row) => whole(studio, row, urgent)));
}

/** Pixels as they were found, of a stack: for whoever goes through everything. */
export const foundWhole = (studio: Studio, stack: Stack, urgent = false): Promise<Wholeness> =>
  studio.pool.check(pyramidDir(studio.root, idOf(stack)), { urgent });
