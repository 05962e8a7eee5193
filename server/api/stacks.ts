import { open } from 'node:fs/promises';
import { join } from 'node:path';
import { Router } from 'express';
import { z } from 'zod';
import { UserError } from '../../core/errors';
import { TILE, levelSize } from '../../core/raster/levels';
import { guessWavelength } from '../../core/stack/filter';
import { parseRecipe } from '../../core/recipe/parse';
import { RecipeEntity, RevisionEntity, type Stack, StackEntity } from '../db/entities';
import { type Studio, dropUnused, pixelId, stackInfo } from '../jobs/studio';
import { PIXEL_ID, pyramidDir } from '../render/pyramid';
import { levelFile, tileOffset } from '../render/sources';
import { checked, route } from './http';
import { targetOf } from './targets';

const patch = z.strictObject({
  name: z.string().trim().min(1).max(64).optional(),
  filter: z.string().trim().max(64).nullable().optional(),
  /** Nanometres. */
  wavelength: z.number().min(100).max(30_000).nullable().optional(),
  domain: z.enum(['linear', 'stretched']).optional(),
  exposure: z.number().positive().nullable().optional(),
});

/** A stack as the page sees it. */
function view(stack: Stack) {
  const { cards, ...rest } = stack;
  return {
    ...rest,
    bytes: Number(stack.bytes),
    pixels: pixelId(stack),
    topDown: Boolean(stack.topDown),
    edgesBlank: Boolean(stack.edgesBlank),
    wcs: stackInfo(stack).wcs ?? null,
    object: cards.find((card) => card.key === 'OBJECT')?.value ?? null,
  };
}

async function stackOf(studio: Studio, id: unknown): Promise<Stack> {
  const stack =
    typeof id === 'string' && id.length <= 36 ? await studio.data.getRepository(StackEntity).findOneBy({ id }) : null;
  if (!stack) throw new UserError('no-stack', 'There is no such stack; it may have been removed.');
  return stack;
}

/** Names of the recipes that use a stack. */
async function recipesWith(studio: Studio, stack: Stack): Promise<string[]> {
  const recipes = await studio.data.getRepository(RecipeEntity).findBy({ targetId: stack.targetId });
  const using: string[] = [];
  for (const recipe of recipes) {
    const revision = await studio.data
      .getRepository(RevisionEntity)
      .findOneBy({ recipeId: recipe.id, number: recipe.revision });
    if (revision && JSON.stringify(parseRecipe(revision.body)).includes(`"stack":${JSON.stringify(stack.name)}`))
      using.push(recipe.name);
  }
  return using;
}

export function stackRoutes(studio: Studio): Router {
  const router = Router();
  const table = studio.data.getRepository(StackEntity);

  router.get(
    '/targets/:id/stacks',
    route(async (request, response) => {
      const target = await targetOf(studio, request.params.id);
      response.json((await table.find({ where: { targetId: target.id }, order: { createdAt: 'ASC' } })).map(view));
    }),
  );

  router.get(
    '/stacks/:id/header',
    route(async (request, response) => {
      const { cards } = await stackOf(studio, request.params.id);
      response.json(cards.flatMap((card) => card.images));
    }),
  );

  router.patch(
    '/stacks/:id',
    route(async (request, response) => {
      const stack = await stackOf(studio, request.params.id);
      const change = checked(patch, request.body);
      if (change.name !== undefined && change.name !== stack.name) {
        if (await table.existsBy({ targetId: stack.targetId, name: change.name }))
          throw new UserError(
            'name-taken',
            `Another stack is already called ${change.name}; choose another name.`,
            'name',
          );
        const using = await recipesWith(studio, stack);
        if (using.length > 0)
          throw new UserError(
            'in-use',
            `${stack.name} is used under this name in ${using.join(', ')}, so its name stays.`,
            'name',
          );
      }
      // A new filter brings its own wavelength, unless one is given with it.
      const wavelength =
        change.filter !== undefined && change.filter !== stack.filter && change.wavelength === undefined
          ? { wavelength: guessWavelength(change.filter ?? undefined) ?? null }
          : {};
      await table.update(stack.id, { ...change, ...wavelength });
      response.json(view({ ...stack, ...change, ...wavelength } as Stack));
    }),
  );

  // Another way to take a file in gives other pixels, so the file is read again.
  const again = async (stack: Stack, how: { divisor?: number; edgesBlank?: boolean }): Promise<string> => {
    const { hash, fileName, id } = stack;
    const job = await studio.jobs.add('import', stack.targetId, fileName, {
      hash,
      fileName,
      into: id,
      divisor: stack.divisor,
      edgesBlank: Boolean(stack.edgesBlank),
      ...how,
    });
    return job.id;
  };

  router.post(
    '/stacks/:id/edges',
    route(async (request, response) => {
      const stack = await stackOf(studio, request.params.id);
      const { blank } = checked(z.strictObject({ blank: z.boolean() }), request.body);
      response.status(202).json({ job: await again(stack, { edgesBlank: blank }) });
    }),
  );

  router.post(
    '/targets/:id/scale',
    route(async (request, response) => {
      const target = await targetOf(studio, request.params.id);
      const { divisor, stacks } = checked(
        z.strictObject({
          divisor: z.number().positive().max(1e12).nullable(),
          stacks: z.array(z.string().max(36)).max(200).optional(),
        }),
        request.body,
      );
      const rows = (await table.findBy({ targetId: target.id })).filter(
        (row) => (stacks?.includes(row.id) ?? true) && row.divisor !== divisor,
      );
      response
        .status(202)
        .json({ jobs: await Promise.all(rows.map((row) => again(row, { divisor: divisor ?? undefined }))) });
    }),
  );

  router.delete(
    '/stacks/:id',
    route(async (request, response) => {
      const stack = await stackOf(studio, request.params.id);
      const using = await recipesWith(studio, stack);
      if (using.length > 0)
        throw new UserError('in-use', `${stack.name} is used in ${using.join(', ')}; take it out there first.`);
      await table.delete(stack.id);
      await dropUnused(studio, stack);
      response.status(204).end();
    }),
  );

  const tile = z.object({
    pixels: z.string().regex(PIXEL_ID),
    level: z.coerce.number().int().min(0).max(20),
    plane: z.coerce.number().int().min(0).max(2),
    tx: z.coerce.number().int().min(0).max(1000),
    ty: z.coerce.number().int().min(0).max(1000),
    width: z.coerce.number().int().min(1).max(200_000),
    height: z.coerce.number().int().min(1).max(200_000),
  });

  // The size stands in the address, so that a tile needs no look into the database; it can only move the offset within the file.
  router.get(
    '/pixels/:pixels/:width/:height/:level/:plane/:tx/:ty',
    route(async (request, response) => {
      const { pixels, level, plane, tx, ty, width, height } = checked(tile, request.params);
      const offset = tileOffset(levelSize(width, level), levelSize(height, level), plane, tx, ty);
      const size = TILE * TILE * 4;
      const file = await open(join(pyramidDir(studio.root, pixels), levelFile(level))).catch(() => {
        throw new UserError('no-pixels', 'These pixels are not on this disk; import the stack again.');
      });
      try {
        const buffer = Buffer.allocUnsafe(size);
        const { bytesRead } = await file.read(buffer, 0, size, offset);
        if (bytesRead !== size) throw new UserError('no-pixels', 'There is no such tile.');
        response
          .set({ 'Content-Type': 'application/octet-stream', 'Cache-Control': 'public, max-age=31536000, immutable' })
          .end(buffer);
      } finally {
        await file.close();
      }
    }),
  );
  return router;
}
