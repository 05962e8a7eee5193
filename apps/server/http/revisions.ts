import { Router } from 'express';
import { z } from 'zod';
import { RevisionEntity } from '../storage/db/entities';
import { pastDir, pastPictures, revisionOf, requestRevisionThumbnail } from '../thumbnails/revision';
import { PICTURE_NAME, readThumbnail } from '../thumbnails/read-thumbnail';
import type { Services } from '../services';
import { FOR_GOOD, parseOrThrow, route } from './http';
import { recipeOf } from './recipes';

const change = z.strictObject({ label: z.string().trim().max(200).nullable() });
const pictureName = z.object({ name: z.string().regex(PICTURE_NAME) });

/** What lists show of a state: all but its recipe. */
const TOLD = { id: true, recipeId: true, number: true, conflict: true, label: true, createdAt: true } as const;

/** The earlier states of recipes: told, named, and shown as pictures. */
export function stateRoutes(services: Services): Router {
  const router = Router();
  const table = services.data.getRepository(RevisionEntity);

  // Newest first; a state that lost in a conflict has no number.
  router.get(
    '/recipes/:id/states',
    route(async (request, response) => {
      const { id: recipeId } = await recipeOf(services, request.params.id);
      const rows = await table.find({
        where: { recipeId },
        select: TOLD,
        order: { createdAt: 'DESC', number: 'DESC' },
      });
      const pictures = await pastPictures(services);
      response.json(
        rows.map(({ conflict, ...row }) => ({
          ...row,
          conflict: Boolean(conflict),
          picture: pictures.get(row.id) ?? null,
          trouble: services.renderErrors.get(row.id) ?? null,
        })),
      );
    }),
  );

  router.get(
    '/states/:id',
    route(async (request, response) => {
      response.json(await revisionOf(services, request.params.id));
    }),
  );

  // A name keeps a state for ever; without one it is thinned out by age.
  router.patch(
    '/states/:id',
    route(async (request, response) => {
      const { id } = await revisionOf(services, request.params.id);
      const { label } = parseOrThrow(change, request.body);
      await table.update(id, { label: label || null });
      response.status(204).end();
    }),
  );

  // The name of its picture; null while a job weaves it.
  router.post(
    '/states/:id/picture',
    route(async (request, response) => {
      response.json({
        picture: await requestRevisionThumbnail(services, await revisionOf(services, request.params.id)),
      });
    }),
  );

  router.get(
    '/past-pictures/:name',
    route(async (request, response) => {
      const { name } = parseOrThrow(pictureName, request.params);
      const bytes = await readThumbnail(pastDir(services.root), name);
      response.set({ 'Content-Type': 'image/jpeg', ...FOR_GOOD }).end(bytes);
    }),
  );
  return router;
}
