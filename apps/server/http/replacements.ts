import { Router } from 'express';
import { RenewalEntity } from '../storage/db/entities';
import type { Services } from '../services';
import { route } from './http';
import { targetOf } from './targets';

/** Stacks that were renewed by newer files, until that has been seen. */
export function renewalRoutes(services: Services): Router {
  const router = Router();
  const table = services.data.getRepository(RenewalEntity);

  router.get(
    '/targets/:id/renewals',
    route(async (request, response) => {
      const target = await targetOf(services, request.params.id);
      response.json(await table.find({ where: { targetId: target.id }, order: { createdAt: 'DESC' } }));
    }),
  );

  router.delete(
    '/renewals/:id',
    route(async (request, response) => {
      await table.delete({ id: String(request.params.id).slice(0, 36) });
      response.status(204).end();
    }),
  );
  return router;
}
