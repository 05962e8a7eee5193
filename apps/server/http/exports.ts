import { Router } from 'express';
import type { z } from 'zod';
import { type newExport, renderRequest } from '@owl-loom/api/exports';
import { UserError } from '@owl-loom/base/errors';
import { type Export, ExportEntity, RecipeEntity, RevisionEntity, type Target } from '../storage/db/entities';
import { readThumbnail } from '../thumbnails/read-thumbnail';
import { exportFile, exportsDir } from '../services/export-files';
import type { Services } from '../services/services';
import { moveToTrash } from '../maintenance/trash';
import { depthOf } from '../export/export';
import { FOR_GOOD, route } from './http';
import { findOrThrow } from './find-or-throw';
import { targetOf } from './targets';
import { serve } from './endpoint';

const exportOf = (services: Services, id: unknown): Promise<Export> => findOrThrow(services, ExportEntity, id, 'file');

/** The list of exports, and how one is written, written again and removed. */
export function exportRoutes(services: Services): Router {
  const router = Router();
  const table = services.data.getRepository(ExportEntity);

  serve(router, 'GET /targets/:id/exports', async ({ request }) => {
    const target = await targetOf(services, request.params.id);
    const rows = await table.find({ where: { targetId: target.id }, order: { createdAt: 'DESC' } });
    return rows.map((row) => ({ ...row, bytes: Number(row.bytes) }));
  });

  /** Begins to write a file of a revision of a recipe. */
  async function begin(target: Target, { revision: given, ...wanted }: z.output<typeof newExport>): Promise<string> {
    depthOf(wanted.format, wanted.depth);
    const recipe = await services.data
      .getRepository(RecipeEntity)
      .findOneBy({ id: wanted.recipeId, targetId: target.id });
    if (!recipe) throw new UserError('no-recipe', 'There is no such recipe; it may have been removed.');
    const revision = given ?? recipe.revision;
    const title = `${recipe.name}, ${wanted.format.toUpperCase()}`;
    return (await services.jobs.add('render', target.id, title, { ...wanted, revision })).id;
  }

  serve(
    router,
    'POST /targets/:id/exports',
    async ({ parseBody, request }) => {
      const target = await targetOf(services, request.params.id);
      return { job: await begin(target, parseBody()) };
    },
    202,
  );

  // Writes the same file again: of the same state, in the same form.
  serve(
    router,
    'POST /exports/:id/again',
    async ({ request }) => {
      const { targetId, request: asked } = await exportOf(services, request.params.id);
      const wanted = renderRequest.safeParse(asked).data;
      if (!wanted)
        throw new UserError(
          'not-again',
          'This export has no saved settings (written by an older version). Export it anew from its recipe.',
        );
      return { job: await begin(await targetOf(services, targetId), wanted) };
    },
    202,
  );

  serve(router, 'DELETE /exports/:id', async ({ request }) => {
    const found = await exportOf(services, request.params.id);
    await moveToTrash(services, 'export', found.id);
  });
  addFileRoutes(router, services);
  return router;
}

/** What an export has as files: its recipe, its small picture, itself. */
function addFileRoutes(router: Router, services: Services): void {
  // The recipe that a file was woven by, as a file.
  router.get(
    '/exports/:id/recipe',
    route(async (request, response) => {
      const { recipeId, revision: number, fileName } = await exportOf(services, request.params.id);
      const found = await services.data.getRepository(RevisionEntity).findOneBy({ recipeId, number });
      if (!found) throw new UserError('no-recipe', 'The recipe of this file is gone; the file itself may carry it.');
      response.attachment(`${fileName.replace(/\.\w+$/, '')}.json`).type('json');
      response.send(`${JSON.stringify(found.body, null, 2)}\n`);
    }),
  );

  router.get(
    '/exports/:id/picture',
    route(async (request, response) => {
      const { id } = await exportOf(services, request.params.id);
      response
        .type('jpg')
        .set(FOR_GOOD)
        .send(await readThumbnail(exportsDir(services.root), `${id}.small.jpg`));
    }),
  );

  router.get(
    '/exports/:id/file',
    route(async (request, response) => {
      const found = await exportOf(services, request.params.id);
      await new Promise<void>((resolve, reject) => {
        response.download(
          exportFile(services.root, found.id, found.format),
          found.fileName,
          { dotfiles: 'allow' },
          (error) => (error ? reject(error) : resolve()),
        );
      });
    }),
  );
}
