import { rm } from 'node:fs/promises';
import { Router } from 'express';
import { z } from 'zod';
import { UserError } from '../../core/errors';
import { type Export, ExportEntity, RecipeEntity } from '../db/entities';
import { renderPayload } from '../jobs/render';
import { type Studio, exportFile } from '../jobs/studio';
import { depthOf } from '../render/export';
import { checked, route } from './http';
import { targetOf } from './targets';

const request_ = renderPayload.omit({ revision: true }).extend({ revision: z.int().positive().optional() });

async function exportOf(studio: Studio, id: unknown): Promise<Export> {
  const found =
    typeof id === 'string' && id.length <= 36 ? await studio.data.getRepository(ExportEntity).findOneBy({ id }) : null;
  if (!found) throw new UserError('no-export', 'There is no such file; it may have been removed.');
  return found;
}

export function exportRoutes(studio: Studio): Router {
  const router = Router();
  const table = studio.data.getRepository(ExportEntity);

  router.get(
    '/targets/:id/exports',
    route(async (request, response) => {
      const target = await targetOf(studio, request.params.id);
      const rows = await table.find({ where: { targetId: target.id }, order: { createdAt: 'DESC' } });
      response.json(rows.map((row) => ({ ...row, bytes: Number(row.bytes) })));
    }),
  );

  router.post(
    '/targets/:id/exports',
    route(async (request, response) => {
      const target = await targetOf(studio, request.params.id);
      const wanted = checked(request_, request.body);
      depthOf(wanted.format, wanted.depth);
      const recipe = await studio.data
        .getRepository(RecipeEntity)
        .findOneBy({ id: wanted.recipeId, targetId: target.id });
      if (!recipe) throw new UserError('no-recipe', 'There is no such recipe; it may have been removed.');
      const revision = wanted.revision ?? recipe.revision;
      const job = await studio.jobs.add('render', target.id, `${recipe.name}, ${wanted.format.toUpperCase()}`, {
        ...wanted,
        revision,
      });
      response.status(202).json({ job: job.id });
    }),
  );

  router.get(
    '/exports/:id/file',
    route(async (request, response) => {
      const found = await exportOf(studio, request.params.id);
      await new Promise<void>((resolve, reject) => {
        response.download(
          exportFile(studio.root, found.id, found.format),
          found.fileName,
          { dotfiles: 'allow' },
          (fault) => (fault ? reject(fault) : resolve()),
        );
      });
    }),
  );

  router.delete(
    '/exports/:id',
    route(async (request, response) => {
      const found = await exportOf(studio, request.params.id);
      await table.delete(found.id);
      await rm(exportFile(studio.root, found.id, found.format), { force: true });
      response.status(204).end();
    }),
  );
  return router;
}
