import { readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { type Graph, pictureId } from '../../core/engine/graph';
import { keyOf } from '../../core/engine/hash';
import { UserError } from '../../core/errors';
import { parseRecipe } from '../../core/recipe/parse';
import type { Recipe } from '../../core/recipe/schema';
import { RecipeEntity, RevisionEntity } from '../db/entities';
import { writeWhole } from '../io/write';
import { nodeNamed } from '../render/render';
import { sceneOf } from '../render/scene';
import type { JobHandler } from './jobs';
import { PICTURE_NAME } from './small-picture';
import { openStacks, type Studio } from './studio';
import { wovenSmall } from './woven-small';
import { seeWhole } from './wholeness';

export const coversDir = (root: string): string => join(root, 'covers');

/** Name of the cover of a recipe as it is now; the same where nothing that is to be seen has changed. */
const nameOf = (recipeId: string, recipe: Recipe, graph: Graph, node: number): string =>
  `${recipeId}.${keyOf([pictureId(graph, node), recipe.cloth?.extent, recipe.cloth?.orient])}.jpg`;

async function open(studio: Studio, recipeId: string) {
  const row = await studio.data.getRepository(RecipeEntity).findOneByOrFail({ id: recipeId });
  const newest = await studio.data
    .getRepository(RevisionEntity)
    .findOneByOrFail({ recipeId: row.id, number: row.revision });
  const recipe = parseRecipe(newest.body);
  const made = sceneOf(recipe, await openStacks(studio, row.targetId));
  const node = nodeNamed(made.graph, recipe);
  return { ...made, targetId: row.targetId, recipe, node, name: nameOf(recipeId, recipe, made.graph, node) };
}

async function coversOf(studio: Studio, ...recipeIds: readonly string[]): Promise<string[]> {
  const names = await readdir(coversDir(studio.root));
  return names.filter((name) => PICTURE_NAME.test(name) && recipeIds.some((id) => name.startsWith(`${id}.`)));
}

/** Takes covers of recipes away, all but the one named. */
async function dropBut(studio: Studio, recipeIds: readonly string[], kept?: string): Promise<void> {
  for (const name of await coversOf(studio, ...recipeIds))
    if (name !== kept) await rm(join(coversDir(studio.root), name), { force: true });
}

export const coverPayload = z.strictObject({ recipeId: z.string().max(36) });

/** Name of a cover of a recipe, of whichever state of it; null where none was made yet. */
export const anyCover = async (studio: Studio, recipeId: string): Promise<string | null> =>
  (await coversOf(studio, recipeId))[0] ?? null;

/**
 * The cover of a recipe: the newest that there is, and whether that shows the recipe as it is. One that is out of date is made anew by a job.
 */
export async function findCover(studio: Studio, recipeId: string): Promise<{ name: string | null; fresh: boolean }> {
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
  if (studio.uncoverable.has(now.name)) return { name: old, fresh: true };
  const payload: z.infer<typeof coverPayload> = { recipeId };
  if (!(await studio.jobs.isComing('cover', now.targetId, payload)))
    await studio.jobs.add('cover', now.targetId, 'cover', payload);
  return { name: old, fresh: false };
}

/** Weaves a recipe's cover from a coarse level of its stacks, under the figures of full size. */
export const coverJob =
  (studio: Studio): JobHandler =>
  async (run) => {
    const { recipeId } = coverPayload.parse(run.job.payload);
    const made = await open(studio, recipeId);
    const { name } = made;
    if ((await coversOf(studio, recipeId)).includes(name)) return { recipeId, name };
    try {
      await seeWhole(studio, made.targetId, { recipe: made.recipe });
      const bytes = await wovenSmall(studio, made, run);
      await writeWhole(join(coversDir(studio.root), name), [bytes]);
      await dropBut(studio, [recipeId], name);
      return { recipeId, name };
    } catch (fault) {
      if (fault instanceof UserError && !run.signal.aborted) studio.uncoverable.add(name);
      throw fault;
    }
  };

/** Takes the covers of removed recipes away. */
export const dropCovers = (studio: Studio, recipes: readonly { readonly id: string }[]): Promise<void> =>
  dropBut(
    studio,
    recipes.map(({ id }) => id),
  );
