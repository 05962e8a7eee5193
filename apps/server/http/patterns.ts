import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import { UserError } from '@owl-loom/base/errors';
import { PatternEntity } from '../storage/db/entities';
import type { Services } from '../services/services';
import { serve } from './endpoint';
import { insertRow } from '../storage/db/write-rows';

/** Pieces of weaving that people keep, for every target. */
export function patternRoutes(services: Services): Router {
  const router = Router();
  const table = services.data.getRepository(PatternEntity);

  serve(router, 'GET /patterns', async () => {
    return await table.find({ order: { createdAt: 'DESC' } });
  });

  serve(
    router,
    'POST /patterns',
    async ({ parseBody }) => {
      const { name, says, body } = parseBody();
      if (await table.existsBy({ name }))
        throw new UserError('name-taken', `There is a pattern called ${name} already; take another name.`);
      const id = randomUUID();
      await insertRow(table, { id, name, says, body });
      return { id, name, says, body };
    },
    201,
  );

  serve(router, 'DELETE /patterns/:id', async ({ request }) => {
    await table.delete({ id: String(request.params.id).slice(0, 36) });
  });
  return router;
}
