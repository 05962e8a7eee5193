import { Router } from 'express';
import { RevisionEntity } from '../storage/db/entities';
import { pastDir, pastPictures, revisionOf, requestRevisionThumbnail } from '../thumbnails/revision';
import type { Services } from '../services/services';
import { recipeOf } from './recipes';
import { serve } from './endpoint';
import { serveThumbnails } from './thumbnails';

/** What lists show of a state: all but its recipe. */
const TOLD = { id: true, recipeId: true, number: true, conflict: true, label: true, createdAt: true } as const;

/** The earlier states of recipes: told, named, and shown as pictures. */
export function stateRoutes(services: Services): Router {
  const router = Router();
  const table = services.data.getRepository(RevisionEntity);

  // Newest first; a state that lost in a conflict has no number.
  serve(router, 'GET /recipes/:id/states', async ({ request }) => {
    const { id: recipeId } = await recipeOf(services, request.params.id);
    const rows = await table.find({
      where: { recipeId },
      select: TOLD,
      order: { createdAt: 'DESC', number: 'DESC' },
    });
    const pictures = await pastPictures(services);
    return rows.map(({ conflict, ...row }) => ({
      ...row,
      conflict: Boolean(conflict),
      picture: pictures.get(row.id) ?? null,
      trouble: services.renderErrors.get(row.id) ?? null,
    }));
  });

  serve(router, 'GET /states/:id', async ({ request }) => {
    return await revisionOf(services, request.params.id);
  });

  // A name keeps a state for ever; without one it is thinned out by age.
  serve(router, 'PATCH /states/:id', async ({ parseBody, request }) => {
    const { id } = await revisionOf(services, request.params.id);
    const { label } = parseBody();
    await table.update(id, { label: label || null });
  });

  // The name of its picture; null while a job weaves it.
  serve(router, 'POST /states/:id/picture', async ({ request }) => {
    return {
      picture: await requestRevisionThumbnail(services, await revisionOf(services, request.params.id)),
    };
  });

  serveThumbnails(router, '/past-pictures', pastDir(services.root));
  return router;
}
