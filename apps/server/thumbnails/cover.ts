import { readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { type Graph, frameImageId } from '#engine/graph';
import { contentKey } from '#base/content-hash';
import { UserError } from '#base/errors';
import { parseRecipe } from '#recipe/parse';
import type { Recipe } from '#recipe/schema';
import { RecipeEntity, RevisionEntity } from '../storage/db/entities';
import { writeAtomically } from '../codecs/write-atomically';
import { resolveNode } from '../render/render';
import { buildGraphInput } from '../render/build-graph-input';
import type { JobHandler } from '../queue/job-queue';
import { PICTURE_NAME } from './read-thumbnail';
import { openStacks, type Services } from '../services';
import { renderThumbnail } from './render-thumbnail';
import { ensureIntact } from '../storage/integrity';

export const coversDir = (root: string): string => join(root, 'covers');

/** Name of the cover of a recipe as it is now; the same where nothing that is to be seen has changed. */
const nameOf = (recipeId: string, recipe: Recipe, graph: Graph, node: number): string =>
  `${recipeId}.${contentKey([frameImageId(graph, node), recipe.cloth?.extent, recipe.cloth?.orient])}.jpg`;

async function open(studio: Services, recipeId: string) {
  const row = await studio.data.getRepository(RecipeEntity).findOneByOrFail({ id: recipeId });
  const newest = await studio.data
    .getRepository(RevisionEntity)
    .findOneByOrFail({ recipeId: row.id, number: row.revision });
  const recipe = parseRecipe(newest.body);
  const made = buildGraphInput(recipe, await openStacks(studio, row.targetId));
  const node = resolveNode(made.graph, recipe);
  return { ...made, targetId: row.targetId, recipe, node, name: nameOf(recipeId, recipe, made.graph, node) };
}

async function coversOf(studio: Services, ...recipeIds: readonly string[]): Promise<string[]> {
  const names = await readdir(coversDir(studio.root));
  return names.filter((name) => PICTURE_NAME.test(name) && recipeIds.some((id) => name.startsWith(`${id}.`)));
}

/** Takes covers of recipes away, all but the one named. */
async function dropBut(studio: Services, recipeIds: readonly string[], kept?: string): Promise<void> {
  for (const name of await coversOf(studio, ...recipeIds))
    if (name !== kept) await rm(join(coversDir(studio.root), name), { force: true });
}

export const coverPayload = z.strictObject({ recipeId: z.string().max(36) });

/** Name of a cover of a recipe, of whichever state of it; null where none was made yet. */
export const anyCover = async (studio: Services, recipeId: string): Promise<string | null> =>
  (await coversOf(studio, recipeId))[0] ?? null;

/**
 * The cover of a recipe: the newest that there is, and whether that shows the recipe as it is. One that is out of date is made anew by a job.
 */
export async function findCoverThumbnail(
  studio: Services,
  recipeId: string,
): Promise<{ name: string | null; fresh: boolean }> {
  const there = await coversOf(studio, recipeId);
  const old = there[0] ?? null;
  let now: Awaited<ReturnType<typeof open>>;
  try {
    now = await open(studio, recipeId);
  } catch (fault) {
    // A recipe that cannot be woven has no new cover; the Loom says what is wrong with it.
    studio.log.debug({ fault, recipeId }, 'no cover can be made');
    return { name: old, fresh: true };
  }
  if (there.includes(now.name)) return { name: now.name, fresh: true };
  if (studio.unrenderableCovers.has(now.name)) return { name: old, fresh: true };
  const payload: z.infer<typeof coverPayload> = { recipeId };
  if (!(await studio.jobs.isPending('cover', now.targetId, payload)))
    await studio.jobs.add('cover', now.targetId, 'cover', payload);
  return { name: old, fresh: false };
}

/** Weaves a recipe's cover from a coarse level of its stacks, under the figures of full size. */
export const coverJob =
  (studio: Services): JobHandler =>
  async (run) => {
    const { recipeId } = coverPayload.parse(run.job.payload);
    const made = await open(studio, recipeId);
    const { name } = made;
    if ((await coversOf(studio, recipeId)).includes(name)) return { recipeId, name };
    try {
      await ensureIntact(studio, made.targetId, { recipe: made.recipe });
      const bytes = await renderThumbnail(studio, made, run);
      await writeAtomically(join(coversDir(studio.root), name), [bytes]);
      await dropBut(studio, [recipeId], name);
      return { recipeId, name };
    } catch (fault) {
      if (fault instanceof UserError && !run.signal.aborted) studio.unrenderableCovers.add(name);
      throw fault;
    }
  };

/** Takes the covers of removed recipes away. */
export const dropCovers = (studio: Services, recipes: readonly { readonly id: string }[]): Promise<void> =>
  dropBut(
    studio,
    recipes.map(({ id }) => id),
  );
