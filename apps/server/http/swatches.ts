import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import { z } from 'zod';
import { UserError } from '#base/errors';
import { parseRecipe } from '#recipe/parse';
import { RecipeEntity, type Swatch, SwatchEntity } from '../storage/db/entities';
import { PICTURE_NAME, readThumbnail } from '../thumbnails/read-thumbnail';
import type { Services } from '../services';
import { swatchesDir, requestSwatchPicture } from '../thumbnails/swatch';
import { moveToTrash } from '../maintenance/trash';
import { FOR_GOOD, parseOrThrow, route } from './http';
import { findOrThrow } from './find-or-throw';
import { targetOf } from './targets';

const name = z.string().trim().min(1, 'give the swatch a name').max(200);
const note = z.string().trim().max(2000);
const keep = z.strictObject({
  recipeId: z.string().max(36),
  body: z.unknown(),
  name: name.optional(),
  note: note.default(''),
});
const change = z.strictObject({ name: name.optional(), note: note.optional() });
const pictureName = z.object({ name: z.string().regex(PICTURE_NAME) });

/** What lists show of a swatch: all but its recipe. */
const told = ({ body: _, ...rest }: Swatch): Omit<Swatch, 'body'> => rest;

export function swatchRoutes(services: Services): Router {
  const router = Router();
  const table = services.data.getRepository(SwatchEntity);

  const swatchOf = (id: unknown): Promise<Swatch> => findOrThrow(services, SwatchEntity, id, 'swatch');

  router.get(
    '/targets/:id/swatches',
    route(async (request, response) => {
      const target = await targetOf(services, request.params.id);
      const swatches = await table.find({ where: { targetId: target.id }, order: { createdAt: 'DESC' } });
      response.json(swatches.map(told));
    }),
  );

  // Keeps a state of a recipe as it is; its picture is woven by a job.
  router.post(
    '/targets/:id/swatches',
    route(async (request, response) => {
      const target = await targetOf(services, request.params.id);
      const { recipeId, body, name: given, note: own } = parseOrThrow(keep, request.body);
      const recipe = parseRecipe(body);
      const known = await services.data.getRepository(RecipeEntity).existsBy({ id: recipeId, targetId: target.id });
      if (!known) throw new UserError('no-recipe', 'There is no such recipe; it may have been removed.');
      const id = randomUUID();
      await table.insert({
        id,
        targetId: target.id,
        recipeId,
        name: given ?? recipe.name?.trim() ?? 'Untitled',
        note: own,
        body: body as never,
        picture: null,
        trouble: null,
      });
      const swatch = await swatchOf(id);
      await requestSwatchPicture(services, swatch);
      response.status(201).json(told(swatch));
    }),
  );

  router.get(
    '/swatches/:id',
    route(async (request, response) => {
      response.json(await swatchOf(request.params.id));
    }),
  );

  router.patch(
    '/swatches/:id',
    route(async (request, response) => {
      const { id } = await swatchOf(request.params.id);
      const changes = parseOrThrow(change, request.body);
      if (Object.keys(changes).length > 0) await table.update(id, changes);
      response.json(told(await swatchOf(id)));
    }),
  );

  // Tries again to weave a picture that failed or was stopped.
  router.post(
    '/swatches/:id/weave',
    route(async (request, response) => {
      const swatch = await swatchOf(request.params.id);
      if (!swatch.picture) {
        await table.update(swatch.id, { trouble: null });
        await requestSwatchPicture(services, swatch);
      }
      response.json(told(await swatchOf(swatch.id)));
    }),
  );

  router.delete(
    '/swatches/:id',
    route(async (request, response) => {
      const swatch = await swatchOf(request.params.id);
      await moveToTrash(services, 'swatch', swatch.id);
      response.status(204).end();
    }),
  );

  router.get(
    '/swatch-pictures/:name',
    route(async (request, response) => {
      const { name: file } = parseOrThrow(pictureName, request.params);
      const bytes = await readThumbnail(swatchesDir(services.root), file);
      response.set({ 'Content-Type': 'image/jpeg', ...FOR_GOOD }).end(bytes);
    }),
  );
  return router;
}
