import { Router } from 'express';
import { z } from 'zod';
import { UserError } from '#base/errors';
import { guessWavelength } from '#image/metadata/filter';
import { RecipeEntity, RevisionEntity, type Stack, StackEntity } from '../storage/db/entities';
import { type Services, pixelId, stackInfo } from '../services';
import { moveToTrash } from '../maintenance/trash';
import { parseOrThrow, route } from './http';
import { findOrThrow } from './find-or-throw';
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

const stackOf = (services: Services, id: unknown): Promise<Stack> => findOrThrow(services, StackEntity, id, 'stack');

/** Names of the recipes that use a stack. */
async function recipesWith(services: Services, stack: Stack): Promise<string[]> {
  const recipes = await services.data.getRepository(RecipeEntity).findBy({ targetId: stack.targetId });
  const using: string[] = [];
  for (const recipe of recipes) {
    const revision = await services.data
      .getRepository(RevisionEntity)
      .findOneBy({ recipeId: recipe.id, number: recipe.revision });
    // Looked for in what was stored, be it a recipe that this version cannot read.
    if (revision && JSON.stringify(revision.body).includes(`"stack":${JSON.stringify(stack.name)}`))
      using.push(recipe.name);
  }
  return using;
}

export function stackRoutes(services: Services): Router {
  const router = Router();
  const table = services.data.getRepository(StackEntity);

  router.get(
    '/targets/:id/stacks',
    route(async (request, response) => {
      const target = await targetOf(services, request.params.id);
      response.json((await table.find({ where: { targetId: target.id }, order: { createdAt: 'ASC' } })).map(view));
    }),
  );

  router.get(
    '/stacks/:id/header',
    route(async (request, response) => {
      const { cards } = await stackOf(services, request.params.id);
      response.json(cards.flatMap((card) => card.images));
    }),
  );

  router.patch(
    '/stacks/:id',
    route(async (request, response) => {
      const stack = await stackOf(services, request.params.id);
      const change = parseOrThrow(patch, request.body);
      if (change.name !== undefined && change.name !== stack.name) {
        if (await table.existsBy({ targetId: stack.targetId, name: change.name }))
          throw new UserError(
            'name-taken',
            `Another stack is already called ${change.name}; choose another name.`,
            'name',
          );
        const using = await recipesWith(services, stack);
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
      if (Object.keys(change).length > 0) await table.update(stack.id, { ...change, ...wavelength });
      response.json(view({ ...stack, ...change, ...wavelength } as Stack));
    }),
  );

  // Another way to take a file in gives other pixels, so the file is read again.
  const again = async (stack: Stack, how: { divisor?: number; edgesBlank?: boolean }): Promise<string> => {
    const { hash, fileName, id } = stack;
    const job = await services.jobs.add('import', stack.targetId, fileName, {
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
      const stack = await stackOf(services, request.params.id);
      const { blank } = parseOrThrow(z.strictObject({ blank: z.boolean() }), request.body);
      response.status(202).json({ job: await again(stack, { edgesBlank: blank }) });
    }),
  );

  router.post(
    '/targets/:id/scale',
    route(async (request, response) => {
      const target = await targetOf(services, request.params.id);
      const { divisor, stacks } = parseOrThrow(
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
      const stack = await stackOf(services, request.params.id);
      const using = await recipesWith(services, stack);
      if (using.length > 0)
        throw new UserError('in-use', `${stack.name} is used in ${using.join(', ')}; take it out there first.`);
      await moveToTrash(services, 'stack', stack.id);
      response.status(204).end();
    }),
  );
  return router;
}
