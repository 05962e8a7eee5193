import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import { IsNull, Not } from 'typeorm';
import { z } from 'zod';
import { RecipeEntity, StackEntity, SwatchEntity, type Target, TargetEntity } from '../storage/db/entities';
import type { Services } from '../services';
import { moveToTrash } from '../maintenance/trash';
import { parseOrThrow, route } from './http';
import { findOrThrow } from './find-or-throw';

const body = z.strictObject({ name: z.string().trim().min(1, 'a target needs a name').max(200) });

/** The target with that id. */
export const targetOf = (studio: Services, id: unknown): Promise<Target> =>
  findOrThrow(studio, TargetEntity, id, 'target');

/** What the shelf shows of a target. */
async function card(studio: Services, target: Target) {
  const stacks = await studio.data
    .getRepository(StackEntity)
    .find({ where: { targetId: target.id }, select: { id: true, name: true, filter: true, exposure: true } });
  const recipes = await studio.data
    .getRepository(RecipeEntity)
    .find({ where: { targetId: target.id }, order: { updatedAt: 'DESC', createdAt: 'DESC' } });
  // The latest swatch is the target's cover.
  const swatch = await studio.data.getRepository(SwatchEntity).findOne({
    where: { targetId: target.id, picture: Not(IsNull()) },
    order: { createdAt: 'DESC' },
    select: { id: true, picture: true },
  });
  return { ...target, stacks, recipes, cover: swatch?.picture ?? null };
}

/** Images that an opened recipe has in memory, for each of its planes. */
const IMAGES_A_PLANE = 2;

/** A target that is looked at will be woven: memory for that is made ready before it is asked for. */
async function preallocateForTarget(studio: Services, targetId: string): Promise<void> {
  const stacks = await studio.data
    .getRepository(StackEntity)
    .find({ where: { targetId }, select: { id: true, width: true, height: true, planes: true } });
  if (stacks.length === 0) return;
  const size = Math.max(...stacks.map(({ width, height }) => width * height));
  const planes = stacks.reduce((sum, stack) => sum + stack.planes, 0);
  await studio.pool.preallocate(size, IMAGES_A_PLANE * planes);
}

export function targetRoutes(studio: Services): Router {
  const router = Router();
  const table = studio.data.getRepository(TargetEntity);

  router.get(
    '/targets',
    route(async (_request, response) => {
      const targets = await table.find({ order: { createdAt: 'DESC' } });
      response.json(await Promise.all(targets.map((target) => card(studio, target))));
    }),
  );

  router.post(
    '/targets',
    route(async (request, response) => {
      const { name } = parseOrThrow(body, request.body);
      const target = await table.save({ id: randomUUID(), name });
      response.status(201).json(await card(studio, target as Target));
    }),
  );

  router.get(
    '/targets/:id',
    route(async (request, response) => {
      const target = await targetOf(studio, request.params.id);
      response.json(await card(studio, target));
      preallocateForTarget(studio, target.id).catch((fault: unknown) =>
        studio.log.warn(fault, 'memory could not be made ready'),
      );
    }),
  );

  router.patch(
    '/targets/:id',
    route(async (request, response) => {
      const target = await targetOf(studio, request.params.id);
      const { name } = parseOrThrow(body, request.body);
      await table.update(target.id, { name });
      response.json(await card(studio, { ...target, name }));
    }),
  );

  router.delete(
    '/targets/:id',
    route(async (request, response) => {
      const target = await targetOf(studio, request.params.id);
      await moveToTrash(studio, 'target', target.id);
      response.status(204).end();
    }),
  );
  return router;
}
