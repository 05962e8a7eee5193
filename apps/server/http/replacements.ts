import { Router } from 'express';
import { RenewalEntity } from '../storage/db/entities';
import type { Services } from '../services/services';
import { targetOf } from './targets';
import { serve } from './endpoint';

/** Stacks that were renewed by newer files, until that has been seen. */
export function renewalRoutes(services: Services): Router {
  const router = Router();
  const table = services.data.getRepository(RenewalEntity);

  serve(router, 'GET /targets/:id/renewals', async ({ request }) => {
    const target = await targetOf(services, request.params.id);
    return await table.find({ where: { targetId: target.id }, order: { createdAt: 'DESC' } });
  });

  serve(router, 'DELETE /renewals/:id', async ({ request }) => {
    await table.delete({ id: String(request.params.id).slice(0, 36) });
  });
  return router;
}
