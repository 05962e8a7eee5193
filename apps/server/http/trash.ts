import { Router } from 'express';
import { z } from 'zod';
import { TRASHABLE } from '@owl-loom/api/maintenance';
import { restoreFromTrash, deletePermanently, emptyTrash, trashed } from '../maintenance/trash';
import type { Services } from '../services/services';
import { parseOrThrow } from './http';
import { serve } from './endpoint';

const place = z.object({ kind: z.enum(TRASHABLE), id: z.string().max(36) });

/** What was removed: told, brought back, or let go of for good. */
export function trashRoutes(services: Services): Router {
  const router = Router();

  serve(router, 'GET /trash', async () => {
    return await trashed(services);
  });

  serve(router, 'POST /trash/:kind/:id/back', async ({ request }) => {
    const { kind, id } = parseOrThrow(place, request.params);
    return await restoreFromTrash(services, kind, id);
  });

  serve(router, 'DELETE /trash/:kind/:id', async ({ request }) => {
    const { kind, id } = parseOrThrow(place, request.params);
    await deletePermanently(services, kind, id);
  });

  serve(router, 'DELETE /trash', async () => {
    return { gone: await emptyTrash(services) };
  });
  return router;
}
