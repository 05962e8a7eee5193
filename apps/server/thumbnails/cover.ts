import { readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { type Graph, frameImageId } from '@owl-loom/engine/graph';
import { contentKey } from '@owl-loom/base/content-hash';
import { UserError } from '@owl-loom/base/errors';
import { parseRecipe } from '@owl-loom/recipe/parse';
import type { Recipe } from '@owl-loom/recipe/schema';
import { RecipeEntity, RevisionEntity } from '../storage/db/entities';
import { writeAtomically } from '../system/write-atomically';
import { resolveNode } from '../render/render';
import { buildGraphInput } from '../render/build-graph-input';
import type { JobHandler } from '../queue/job-work';
import { PICTURE_NAME } from './read-thumbnail';
import { openStacks } from '../services/stacks';
import type { Services } from '../services/services';
import { renderThumbnail } from './render-thumbnail';
import { ensureIntact } from '../storage/integrity';

export const coversDir = (root: string): string => join(root, 'covers');

/** Name of the cover of a recipe as it is now; the same where nothing that is to be seen has changed. */
const nameOf = (recipeId: string, recipe: Recipe, graph: Graph, node: number): string =>
  `${recipeId}.${contentKey([frameImageId(graph, node), recipe.cloth?.extent, recipe.cloth?.orient])}.jpg`;

async function open(services: Services, recipeId: string) {
  const row = await services.data.getRepository(RecipeEntity).findOneByOrFail({ id: recipeId });
  const newest = await services.data
    .getRepository(RevisionEntity)
    .findOneByOrFail({ recipeId: row.id, number: row.revision });
  const recipe = parseRecipe(newest.body);
  const made = buildGraphInput(recipe, await openStacks(services, row.targetId));
  const node = resolveNode(made.graph, recipe);
  return { ...made, targetId: row.targetId, recipe, node, name: nameOf(recipeId, recipe, made.graph, node) };
}

async function coversOf(services: Services, ...recipeIds: readonly string[]): Promise<string[]> {
  const names = await readdir(coversDir(services.root));
  return names.filter((name) => PICTURE_NAME.test(name) && recipeIds.some((id) => name.startsWith(`${id}.`)));
}

/** Takes covers of recipes away, all but the one named. */
async function dropBut(services: Services, recipeIds: readonly string[], kept?: string): Promise<void> {
  for (const name of await coversOf(services, ...recipeIds))
    if (name !== kept) await rm(join(coversDir(services.root), name), { force: true });
}

/** Name of a cover of a recipe, of whichever state of it; null where none was made yet. */
export const anyCover = async (services: Services, recipeId: string): Promise<string | null> =>
  (await coversOf(services, recipeId))[0] ?? null;

/**
 * The cover of a recipe: the newest that there is, and whether that shows the recipe as it is. One that is out of date is made anew by a job.
 */
export async function findCoverThumbnail(
  services: Services,
  recipeId: string,
): Promise<{ name: string | null; fresh: boolean }> {
  const there = await coversOf(services, recipeId);
  const old = there[0] ?? null;
  let now: Awaited<ReturnType<typeof open>>;
  try {
    now = await open(services, recipeId);
  } catch (fault) {
    // A recipe that cannot be woven has no new cover; the Loom says what is wrong with it.
    services.log.debug({ fault, recipeId }, 'no cover can be made');
    return { name: old, fresh: true };
  }
  if (there.includes(now.name)) return { name: now.name, fresh: true };
  if (services.unrenderableCovers.has(now.name)) return { name: old, fresh: true };
  const payload = { recipeId };
  if (!(await services.jobs.isPending('cover', now.targetId, payload)))
    await services.jobs.add('cover', now.targetId, 'cover', payload);
  return { name: old, fresh: false };
}

/** Weaves a recipe's cover from a coarse level of its stacks, under the measurements of full size. */
export const coverJob =
  (services: Services): JobHandler<'cover'> =>
  async (run) => {
    const { recipeId } = run.payload;
    const made = await open(services, recipeId);
    const { name } = made;
    if ((await coversOf(services, recipeId)).includes(name)) return { recipeId, name };
    try {
      await ensureIntact(services, made.targetId, { recipe: made.recipe });
      const bytes = await renderThumbnail(services, made, run);
      await writeAtomically(join(coversDir(services.root), name), [bytes]);
      await dropBut(services, [recipeId], name);
      return { recipeId, name };
    } catch (error) {
      if (error instanceof UserError && !run.signal.aborted) services.unrenderableCovers.add(name);
      throw error;
    }
  };

/** Takes the covers of removed recipes away. */
export const dropCovers = (services: Services, recipes: readonly { readonly id: string }[]): Promise<void> =>
  dropBut(
    services,
    recipes.map(({ id }) => id),
  );
