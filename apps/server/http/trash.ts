import { Router } from 'express';
import { z } from 'zod';
import { TRASHABLE, restoreFromTrash, deletePermanently, emptyTrash, trashed } from '../maintenance/trash';
import type { Services } from '../services';
import { parseOrThrow, route } from './http';

const place = z.object({ kind: z.enum(TRASHABLE), id: z.string().max(36) });

/** What was removed: told, brought back, or let go of for good. */
export function trashRoutes(services: Services): Router {
  const router = Router();

  router.get(
    '/trash',
    route(async (_request, response) => {
      response.json(await trashed(services));
    }),
  );

  router.post(
    '/trash/:kind/:id/back',
    route(async (request, response) => {
      const { kind, id } = parseOrThrow(place, request.params);
      response.json(await restoreFromTrash(services, kind, id));
    }),
  );

  router.delete(
    '/trash/:kind/:id',
    route(async (request, response) => {
      const { kind, id } = parseOrThrow(place, request.params);
      await deletePermanently(services, kind, id);
      response.status(204).end();
    }),
  );

  router.delete(
    '/trash',
    route(async (_request, response) => {
      response.json({ gone: await emptyTrash(services) });
    }),
  );
  return router;
}
