import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import { UserError } from '@owl-loom/base/errors';
import { parseRecipe } from '@owl-loom/recipe/parse';
import { RecipeEntity, type Swatch, SwatchEntity } from '../storage/db/entities';
import type { Services } from '../services/services';
import { swatchesDir, requestSwatchPicture } from '../thumbnails/swatch';
import { moveToTrash } from '../maintenance/trash';
import { findOrThrow } from './find-or-throw';
import { targetOf } from './targets';
import { serve } from './endpoint';
import { serveThumbnails } from './thumbnails';
import { insertRow } from '../storage/db/write-rows';

/** What lists show of a swatch: all but its recipe. */
const replyOf = ({ body: _, ...rest }: Swatch): Omit<Swatch, 'body'> => rest;

export function swatchRoutes(services: Services): Router {
  const router = Router();
  const table = services.data.getRepository(SwatchEntity);

  const swatchOf = (id: unknown): Promise<Swatch> => findOrThrow(services, SwatchEntity, id, 'swatch');

  serve(router, 'GET /targets/:id/swatches', async ({ request }) => {
    const target = await targetOf(services, request.params.id);
    const swatches = await table.find({ where: { targetId: target.id }, order: { createdAt: 'DESC' } });
    return swatches.map(replyOf);
  });

  // Keeps a state of a recipe as it is; its picture is woven by a job.
  serve(
    router,
    'POST /targets/:id/swatches',
    async ({ parseBody, request }) => {
      const target = await targetOf(services, request.params.id);
      const { recipeId, body, name: given, note: own } = parseBody();
      const recipe = parseRecipe(body);
      const known = await services.data.getRepository(RecipeEntity).existsBy({ id: recipeId, targetId: target.id });
      if (!known) throw new UserError('no-recipe', 'There is no such recipe; it may have been removed.');
      const id = randomUUID();
      await insertRow(table, {
        id,
        targetId: target.id,
        recipeId,
        name: given ?? recipe.name?.trim() ?? 'Untitled',
        note: own,
        body,
        picture: null,
        trouble: null,
      });
      const swatch = await swatchOf(id);
      await requestSwatchPicture(services, swatch);
      return replyOf(swatch);
    },
    201,
  );

  serve(router, 'GET /swatches/:id', async ({ request }) => {
    return await swatchOf(request.params.id);
  });

  serve(router, 'PATCH /swatches/:id', async ({ parseBody, request }) => {
    const { id } = await swatchOf(request.params.id);
    const changes = parseBody();
    if (Object.keys(changes).length > 0) await table.update(id, changes);
    return replyOf(await swatchOf(id));
  });

  // Tries again to weave a picture that failed or was stopped.
  serve(router, 'POST /swatches/:id/weave', async ({ request }) => {
    const swatch = await swatchOf(request.params.id);
    if (!swatch.picture) {
      await table.update(swatch.id, { trouble: null });
      await requestSwatchPicture(services, swatch);
    }
    return replyOf(await swatchOf(swatch.id));
  });

  serve(router, 'DELETE /swatches/:id', async ({ request }) => {
    const swatch = await swatchOf(request.params.id);
    await moveToTrash(services, 'swatch', swatch.id);
  });

  serveThumbnails(router, '/swatch-pictures', swatchesDir(services.root));
  return router;
}
