import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import { IsNull, Not } from 'typeorm';
import { RecipeEntity, StackEntity, SwatchEntity, type Target, TargetEntity } from '../storage/db/entities';
import type { Services } from '../services/services';
import { moveToTrash } from '../maintenance/trash';
import { findOrThrow } from './find-or-throw';
import { serve } from './endpoint';

/** The target with that id. */
export const targetOf = (services: Services, id: unknown): Promise<Target> =>
  findOrThrow(services, TargetEntity, id, 'target');

/** What the shelf shows of a target. */
async function card(services: Services, target: Target) {
  const stacks = await services.data
    .getRepository(StackEntity)
    .find({ where: { targetId: target.id }, select: { id: true, name: true, filter: true, exposure: true } });
  const recipes = await services.data
    .getRepository(RecipeEntity)
    .find({ where: { targetId: target.id }, order: { updatedAt: 'DESC', createdAt: 'DESC' } });
  // The latest swatch is the target's cover.
  const swatch = await services.data.getRepository(SwatchEntity).findOne({
    where: { targetId: target.id, picture: Not(IsNull()) },
    order: { createdAt: 'DESC' },
    select: { id: true, picture: true },
  });
  return { ...target, stacks, recipes, cover: swatch?.picture ?? null };
}

/** Images that an opened recipe has in memory, for each of its planes. */
const IMAGES_A_PLANE = 2;

/** A target that is looked at will be woven: memory for that is made ready before it is asked for. */
async function preallocateForTarget(services: Services, targetId: string): Promise<void> {
  const stacks = await services.data
    .getRepository(StackEntity)
    .find({ where: { targetId }, select: { id: true, width: true, height: true, planes: true } });
  if (stacks.length === 0) return;
  const size = Math.max(...stacks.map(({ width, height }) => width * height));
  const planes = stacks.reduce((sum, stack) => sum + stack.planes, 0);
  await services.pool.preallocate(size, IMAGES_A_PLANE * planes);
}

export function targetRoutes(services: Services): Router {
  const router = Router();
  const table = services.data.getRepository(TargetEntity);

  serve(router, 'GET /targets', async () => {
    const targets = await table.find({ order: { createdAt: 'DESC' } });
    return await Promise.all(targets.map((target) => card(services, target)));
  });

  serve(
    router,
    'POST /targets',
    async ({ parseBody }) => {
      const { name } = parseBody();
      const target = await table.save({ id: randomUUID(), name });
      return await card(services, target as Target);
    },
    201,
  );

  serve(router, 'GET /targets/:id', async ({ request }) => {
    const target = await targetOf(services, request.params.id);
    const reply = await card(services, target);
    preallocateForTarget(services, target.id).catch((error: unknown) =>
      services.log.warn(error, 'memory could not be made ready'),
    );
    return reply;
  });

  serve(router, 'PATCH /targets/:id', async ({ parseBody, request }) => {
    const target = await targetOf(services, request.params.id);
    const { name } = parseBody();
    await table.update(target.id, { name });
    return await card(services, { ...target, name });
  });

  serve(router, 'DELETE /targets/:id', async ({ request }) => {
    const target = await targetOf(services, request.params.id);
    await moveToTrash(services, 'target', target.id);
  });
  return router;
}
