import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import { z } from 'zod';
import { UserError } from '#base/errors';
import { paletteFile } from '#recipe/palettes/file';
import { paletteFromRecipe } from '#recipe/palettes/palette';
import { BUILT_IN_PALETTES } from '#recipe/palettes/built-in';
import { parseRecipe } from '#recipe/parse';
import { PaletteEntity, StackEntity } from '../storage/db/entities';
import { uniqueName } from '../storage/unique-names';
import { isComplete, ownPalettes, contactSheetOf, sheetsDir } from '../thumbnails/contact-sheet';
import { PICTURE_NAME, readThumbnail } from '../thumbnails/read-thumbnail';
import type { Services } from '../services';
import { FOR_GOOD, parseOrThrow, route } from './http';
import { targetOf } from './targets';

const keep = z.strictObject({
  name: z.string().trim().min(1, 'give the palette a name').max(200),
  says: z.string().trim().max(500).default(''),
  recipe: z.unknown(),
});
const sheetName = z.object({ name: z.string().regex(PICTURE_NAME) });

export function paletteRoutes(services: Services): Router {
  const router = Router();
  const table = services.data.getRepository(PaletteEntity);

  // Every palette with its recipe for this target's stacks, and the pictures of the contact sheet that lie there.
  router.get(
    '/targets/:id/palettes',
    route(async (request, response) => {
      const target = await targetOf(services, request.params.id);
      response.json(await contactSheetOf(services, target.id));
    }),
  );

  // Weaves the pictures that are missing, by a job; none where none is.
  router.post(
    '/targets/:id/sheet',
    route(async (request, response) => {
      const target = await targetOf(services, request.params.id);
      const needed = !isComplete(await contactSheetOf(services, target.id));
      const coming = needed && (await services.jobs.isPending('sheet', target.id, {}));
      if (needed && !coming) await services.jobs.add('sheet', target.id, 'contact sheet', {});
      response.json({ weaving: needed });
    }),
  );

  router.get(
    '/sheets/:name',
    route(async (request, response) => {
      const { name } = parseOrThrow(sheetName, request.params);
      const bytes = await readThumbnail(sheetsDir(services.root), name);
      response.set({ 'Content-Type': 'image/jpeg', ...FOR_GOOD }).end(bytes);
    }),
  );

  // Keeps a recipe of a target as a palette for all of them.
  router.post(
    '/targets/:id/palettes',
    route(async (request, response) => {
      const target = await targetOf(services, request.params.id);
      const { name, says, recipe: raw } = parseOrThrow(keep, request.body);
      const stacks = await services.data.getRepository(StackEntity).findBy({ targetId: target.id });
      const { recipe } = paletteFromRecipe(parseRecipe(raw), stacks, name, says);
      if (BUILT_IN_PALETTES.some((palette) => palette.name === name) || (await table.existsBy({ name })))
        throw new UserError('name-taken', `There is a palette called ${name} already; take another name.`);
      const id = randomUUID();
      await table.insert({ id, name, says, body: { ...recipe, name } as never });
      response.status(201).json({ id, name, says });
    }),
  );

  // All palettes as they are, of no target: those that come with Owl Loom first.
  router.get(
    '/palettes',
    route(async (_request, response) => {
      response.json([...BUILT_IN_PALETTES, ...(await ownPalettes(services))]);
    }),
  );

  // One that came as a file; where another has its name it is counted up.
  router.post(
    '/palettes',
    route(async (request, response) => {
      const { name: wanted, says, recipe: raw } = parseOrThrow(keep, request.body);
      const recipe = parseRecipe(raw);
      const taken = [...BUILT_IN_PALETTES, ...(await ownPalettes(services))].map(({ name }) => name);
      const name = uniqueName(taken, wanted);
      const id = randomUUID();
      await table.insert({ id, name, says, body: { ...recipe, name } as never });
      response.status(201).json({ id, name, says });
    }),
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

  router.delete(
    '/palettes/:id',
    route(async (request, response) => {
      await table.delete({ id: String(request.params.id).slice(0, 36) });
      response.status(204).end();
    }),
  );
  return router;
}
