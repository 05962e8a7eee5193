import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import { z } from 'zod';
import { UserError } from '#base/errors';
import { patternBody } from '#recipe/patterns/schema';
import { PatternEntity } from '../storage/db/entities';
import type { Services } from '../services';
import { parseOrThrow, route } from './http';

const keep = z.strictObject({
  name: z.string().trim().min(1, 'give the pattern a name').max(200),
  says: z.string().trim().max(500).default(''),
  body: patternBody,
});

/** Pieces of weaving that people keep, for every target. */
export function patternRoutes(services: Services): Router {
  const router = Router();
  const table = services.data.getRepository(PatternEntity);

  router.get(
    '/patterns',
    route(async (_request, response) => {
      response.json(await table.find({ order: { createdAt: 'DESC' } }));
    }),
  );

  router.post(
    '/patterns',
    route(async (request, response) => {
      const { name, says } = parseOrThrow(keep, request.body);
      // As it was written: what the check fills in would stand in every recipe that it is threaded into.
      const { body } = request.body as z.input<typeof keep>;
      if (await table.existsBy({ name }))
        throw new UserError('name-taken', `There is a pattern called ${name} already; take another name.`);
      const id = randomUUID();
      await table.insert({ id, name, says, body: body as never });
      response.status(201).json({ id, name, says, body });
    }),
  );

  router.delete(
    '/patterns/:id',
    route(async (request, response) => {
      await table.delete({ id: String(request.params.id).slice(0, 36) });
      response.status(204).end();
    }),
  );
  return router;
}
