import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import { UserError } from '@owl-loom/base/errors';
import { paletteFile } from '@owl-loom/recipe/palettes/file';
import { paletteFromRecipe } from '@owl-loom/recipe/palettes/palette';
import { BUILT_IN_PALETTES } from '@owl-loom/recipe/palettes/built-in';
import { parseRecipe } from '@owl-loom/recipe/parse';
import { PaletteEntity, StackEntity } from '../storage/db/entities';
import { uniqueName } from '../stacks/unique-names';
import { isComplete, ownPalettes, contactSheetOf, sheetsDir } from '../thumbnails/contact-sheet';
import type { Services } from '../services/services';
import { route } from './http';
import { targetOf } from './targets';
import { serve } from './endpoint';
import { serveThumbnails } from './thumbnails';
import { insertRow } from '../storage/db/write-rows';

export function paletteRoutes(services: Services): Router {
  const router = Router();
  const table = services.data.getRepository(PaletteEntity);

  // Every palette with its recipe for this target's stacks, and the pictures of the contact sheet that lie there.
  serve(router, 'GET /targets/:id/palettes', async ({ request }) => {
    const target = await targetOf(services, request.params.id);
    return await contactSheetOf(services, target.id);
  });

  // Weaves the pictures that are missing, by a job; none where none is.
  serve(router, 'POST /targets/:id/sheet', async ({ request }) => {
    const target = await targetOf(services, request.params.id);
    const needed = !isComplete(await contactSheetOf(services, target.id));
    const coming = needed && (await services.jobs.isPending('sheet', target.id, {}));
    if (needed && !coming) await services.jobs.add('sheet', target.id, 'contact sheet', {});
    return { weaving: needed };
  });

  serveThumbnails(router, '/sheets', sheetsDir(services.root));

  // Keeps a recipe of a target as a palette for all of them.
  serve(
    router,
    'POST /targets/:id/palettes',
    async ({ parseBody, request }) => {
      const target = await targetOf(services, request.params.id);
      const { name, says, recipe: raw } = parseBody();
      const stacks = await services.data.getRepository(StackEntity).findBy({ targetId: target.id });
      const { recipe } = paletteFromRecipe(parseRecipe(raw), stacks, name, says);
      if (BUILT_IN_PALETTES.some((palette) => palette.name === name) || (await table.existsBy({ name })))
        throw new UserError('name-taken', `There is a palette called ${name} already; take another name.`);
      const id = randomUUID();
      await insertRow(table, { id, name, says, body: { ...recipe, name } });
      return { id, name, says };
    },
    201,
  );

  addPaletteRoutes(router, services);
  return router;
}

/** Palettes of no target: their list, and how one comes, is written as a file and goes. */
function addPaletteRoutes(router: Router, services: Services): void {
  const table = services.data.getRepository(PaletteEntity);

  // All palettes as they are, of no target: those that come with Owl Loom first.
  serve(router, 'GET /palettes', async () => {
    return [...BUILT_IN_PALETTES, ...(await ownPalettes(services))];
  });

  // One that came as a file; where another has its name it is counted up.
  serve(
    router,
    'POST /palettes',
    async ({ parseBody }) => {
      const { name: wanted, says, recipe: raw } = parseBody();
      const recipe = parseRecipe(raw);
      const taken = [...BUILT_IN_PALETTES, ...(await ownPalettes(services))].map(({ name }) => name);
      const name = uniqueName(taken, wanted);
      const id = randomUUID();
      await insertRow(table, { id, name, says, body: { ...recipe, name } });
      return { id, name, says };
    },
    201,
  );

  router.get(
    '/palettes/:id/file',
    route(async (request, response) => {
      const found = await table.findOneBy({ id: String(request.params.id).slice(0, 36) });
      if (!found) throw new UserError('no-palette', 'There is no such palette; it may have been removed.');
      const { name, says, body: recipe } = found;
      response.attachment(`${name}.palette.json`).type('json').send(paletteFile({ name, says, recipe }));
    }),
  );

  serve(router, 'DELETE /palettes/:id', async ({ request }) => {
    await table.delete({ id: String(request.params.id).slice(0, 36) });
  });
}
