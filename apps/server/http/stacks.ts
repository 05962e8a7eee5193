import { Router } from 'express';
import { UserError } from '@owl-loom/base/errors';
import { guessWavelength } from '@owl-loom/image/metadata/filter';
import { RecipeEntity, RevisionEntity, type Stack, StackEntity } from '../storage/db/entities';
import { pixelId, stackInfo } from '../services/stacks';
import type { Services } from '../services/services';
import { moveToTrash } from '../maintenance/trash';
import { findOrThrow } from './find-or-throw';
import { targetOf } from './targets';
import { serve } from './endpoint';

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

  serve(router, 'GET /targets/:id/stacks', async ({ request }) => {
    const target = await targetOf(services, request.params.id);
    return (await table.find({ where: { targetId: target.id }, order: { createdAt: 'ASC' } })).map(view);
  });

  serve(router, 'GET /stacks/:id/header', async ({ request }) => {
    const { cards } = await stackOf(services, request.params.id);
    return cards.flatMap((card) => card.images);
  });

  serve(router, 'PATCH /stacks/:id', async ({ parseBody, request }) => {
    const stack = await stackOf(services, request.params.id);
    const change = parseBody();
    if (change.name !== undefined && change.name !== stack.name) {
      if (await table.existsBy({ targetId: stack.targetId, name: change.name }))
        throw new UserError(
          'name-taken',
          `Another stack is already called ${change.name}; choose another name.`,
          'name',
        );
      const using = await recipesWith(services, stack);
      if (using.length > 0)
        throw new UserError('in-use', `Cannot rename ${stack.name}: used in ${using.join(', ')}.`, 'name');
    }
    // A new filter brings its own wavelength, unless one is given with it.
    const wavelength =
      change.filter !== undefined && change.filter !== stack.filter && change.wavelength === undefined
        ? { wavelength: guessWavelength(change.filter ?? undefined) ?? null }
        : {};
    if (Object.keys(change).length > 0) await table.update(stack.id, { ...change, ...wavelength });
    return view({ ...stack, ...change, ...wavelength } as Stack);
  });

  serve(router, 'DELETE /stacks/:id', async ({ request }) => {
    const stack = await stackOf(services, request.params.id);
    const using = await recipesWith(services, stack);
    if (using.length > 0)
      throw new UserError('in-use', `Cannot remove ${stack.name}: used in ${using.join(', ')}. Remove it there first.`);
    await moveToTrash(services, 'stack', stack.id);
  });
  addReadAgainRoutes(router, services);
  return router;
}

/** How files are taken in another way: their edges, their full scale. */
function addReadAgainRoutes(router: Router, services: Services): void {
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

  serve(
    router,
    'POST /stacks/:id/edges',
    async ({ parseBody, request }) => {
      const stack = await stackOf(services, request.params.id);
      const { blank } = parseBody();
      return { job: await again(stack, { edgesBlank: blank }) };
    },
    202,
  );

  serve(
    router,
    'POST /targets/:id/scale',
    async ({ parseBody, request }) => {
      const target = await targetOf(services, request.params.id);
      const { divisor, stacks } = parseBody();
      const all = await services.data.getRepository(StackEntity).findBy({ targetId: target.id });
      const rows = all.filter((row) => (stacks?.includes(row.id) ?? true) && row.divisor !== divisor);
      return { jobs: await Promise.all(rows.map((row) => again(row, { divisor: divisor ?? undefined }))) };
    },
    202,
  );
}
