import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import type { z } from 'zod';
import type { recipeSave } from '@owl-loom/api/recipes';
import { UserError } from '@owl-loom/base/errors';
import { parseRecipe } from '@owl-loom/recipe/parse';
import { RecipeEntity, RevisionEntity, type StoredRecipe } from '../storage/db/entities';
import { pruneRevisions } from '../thumbnails/revision';
import { knownMeasurements } from '../storage/known-measurements';
import { anyCover, coversDir, findCoverThumbnail } from '../thumbnails/cover';
import { findProof } from '../jobs/proof';
import type { Services } from '../services/services';
import { moveToTrash } from '../maintenance/trash';
import { DetailedUserError } from './http';
import { findOrThrow } from './find-or-throw';
import { targetOf } from './targets';
import { serve } from './endpoint';
import { serveThumbnails } from './thumbnails';
import { insertRow } from '../storage/db/write-rows';

export const recipeOf = (services: Services, id: unknown): Promise<StoredRecipe> =>
  findOrThrow(services, RecipeEntity, id, 'recipe');

/**
 * Saves a new revision. One whose parent is no longer the newest is kept as well, and refused with the newest. One that was saved before, by
 * its key, is answered as it was then: its answer may have been lost.
 */
async function addRevision(
  services: Services,
  id: string,
  { parent, body, key = randomUUID() }: z.output<typeof recipeSave>,
): Promise<StoredRecipe> {
  const recipe = parseRecipe(body);
  const outcome = await services.data.transaction(async (manager) => {
    const row = await manager
      .getRepository(RecipeEntity)
      .findOne({ where: { id }, lock: { mode: 'pessimistic_write' } });
    if (!row) throw new UserError('no-recipe', 'There is no such recipe; it may have been removed.');
    const before = await manager.getRepository(RevisionEntity).findOneBy({ id: key });
    if (before && before.recipeId !== id)
      throw new UserError('key-taken', 'This key belongs to a save of another recipe; take a new one.');
    if (before) return { row: { ...row, revision: before.number ?? row.revision }, late: before.conflict };
    const late = row.revision !== parent;
    const number = late ? null : row.revision + 1;
    await insertRow(manager.getRepository(RevisionEntity), {
      id: key,
      recipeId: id,
      number,
      parent,
      conflict: late,
      body,
    });
    if (late) return { row, late };
    row.revision += 1;
    row.name = recipe.name ?? row.name;
    await manager.getRepository(RecipeEntity).update(id, { revision: row.revision, name: row.name });
    return { row, late };
  });
  if (outcome.late) {
    const newest = await services.data
      .getRepository(RevisionEntity)
      .findOneBy({ recipeId: id, number: outcome.row.revision });
    throw new DetailedUserError('conflict', 'This recipe was also changed elsewhere. Both versions are in History.', {
      revision: outcome.row.revision,
      body: newest?.body,
    });
  }
  return outcome.row;
}

/** Makes a recipe with its first revision, both or neither. */
function addRecipe(services: Services, targetId: string, body: unknown): Promise<StoredRecipe> {
  const { name = 'Untitled' } = parseRecipe(body);
  return services.data.transaction(async (manager) => {
    const row = await manager.getRepository(RecipeEntity).save({ id: randomUUID(), targetId, name, revision: 1 });
    await insertRow(manager.getRepository(RevisionEntity), {
      id: randomUUID(),
      recipeId: row.id,
      number: 1,
      parent: 0,
      conflict: false,
      body,
    });
    return row;
  });
}

/** Saves between two looks at whether earlier states may go. */
const THIN_EVERY = 25;

/** Lets go of old states now and then, beside what is answered. */
function pruneOccasionally(services: Services, { id, revision }: StoredRecipe): void {
  if (revision % THIN_EVERY !== 0) return;
  pruneRevisions(services, id).catch((error: unknown) =>
    services.log.warn(error, 'earlier states could not be thinned out'),
  );
}

export function recipeRoutes(services: Services): Router {
  const router = Router();
  const table = services.data.getRepository(RecipeEntity);

  serve(router, 'GET /targets/:id/recipes', async ({ request }) => {
    const target = await targetOf(services, request.params.id);
    return await table.find({ where: { targetId: target.id }, order: { updatedAt: 'DESC', createdAt: 'DESC' } });
  });

  serve(
    router,
    'POST /targets/:id/recipes',
    async ({ parseBody, request }) => {
      const target = await targetOf(services, request.params.id);
      const { body } = parseBody();
      return await addRecipe(services, target.id, body);
    },
    201,
  );

  serve(router, 'GET /recipes/:id', async ({ request }) => {
    const recipe = await recipeOf(services, request.params.id);
    const newest = await services.data
      .getRepository(RevisionEntity)
      .findOneBy({ recipeId: recipe.id, number: recipe.revision });
    if (!newest)
      throw new UserError('no-state', 'The latest version is missing. Restore an earlier one in Swatches › History.');
    return { ...recipe, body: newest.body };
  });

  serve(router, 'PUT /recipes/:id', async ({ parseBody, request }) => {
    const asked = parseBody();
    const recipe = await recipeOf(services, request.params.id);
    const reply = await addRevision(services, recipe.id, asked);
    pruneOccasionally(services, recipe);
    return reply;
  });

  serve(router, 'DELETE /recipes/:id', async ({ request }) => {
    const recipe = await recipeOf(services, request.params.id);
    await moveToTrash(services, 'recipe', recipe.id);
  });

  // The name of its cover, old or new; one that is out of date is made anew by a job, after which the page asks again. Where any will do
  // (`?any=1`), no job begins.
  serve(router, 'GET /recipes/:id/cover', async ({ parseQuery, request }) => {
    const recipe = await recipeOf(services, request.params.id);
    const { any } = parseQuery();
    return any
      ? { name: await anyCover(services, recipe.id), fresh: false }
      : await findCoverThumbnail(services, recipe.id);
  });

  serveThumbnails(router, '/covers', coversDir(services.root));

  addMeasureRoutes(router, services);
  return router;
}

/** What a recipe on the screen needs of the server: measurements, and the proof. */
function addMeasureRoutes(router: Router, services: Services): void {
  // Known measurements at once; what is missing becomes a job, after which the page asks again.
  serve(router, 'POST /targets/:id/measure', async ({ parseBody, request }) => {
    const target = await targetOf(services, request.params.id);
    const { known, recipe: raw, paths, also } = parseBody();
    const recipe = parseRecipe(raw);
    const { figures, failed, obstacle, complete } = await knownMeasurements(services, target.id, {
      recipe,
      paths,
      also,
    });
    const job =
      complete || known
        ? undefined
        : await services.jobs.add('measure', target.id, 'figures', { recipe: raw, paths, also });
    return { figures, failed, obstacle, job: job?.id ?? null };
  });
  // The proof of an image and the kept images before it: full-size pixels as pyramids, made by a job where they are not there yet.
  serve(router, 'POST /targets/:id/proof', async ({ parseBody, request }) => {
    const target = await targetOf(services, request.params.id);
    const { recipe: raw, path } = parseBody();
    const { pixels, kept, ready } = await findProof(services, target.id, parseRecipe(raw), path);
    const job = ready ? undefined : await services.jobs.add('proof', target.id, 'proof', { recipe: raw, path });
    return { pixels, kept, job: job?.id ?? null };
  });
}
