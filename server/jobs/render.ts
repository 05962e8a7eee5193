import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { UserError } from '../../core/errors';
import { parseRecipe } from '../../core/recipe/parse';
import { ExportEntity, RecipeEntity, RevisionEntity } from '../db/entities';
import { writeWhole } from '../io/write';
import { type FileFormat, depthOf, encode } from '../render/export';
import { render } from '../render/render';
import type { JobHandler } from './jobs';
import { imagesOnDisk } from './kept-images';
import { type Studio, exportFile, figureStore, openStacks, sizeOf } from './studio';

export const renderPayload = z.strictObject({
  recipeId: z.uuid(),
  revision: z.int().positive(),
  format: z.enum(['fits', 'tif', 'png', 'jpg']),
  depth: z.int().optional(),
  node: z.string().max(200).optional(),
});

/** A file name from a recipe's: letters, figures and dashes. */
const plainName = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .toLowerCase() || 'cloth';

/** Renders a saved revision at full size and keeps the file. */
export const renderJob =
  (studio: Studio): JobHandler =>
  async ({ job, signal, progress }) => {
    const payload = renderPayload.parse(job.payload);
    const { data } = studio;
    const recipeRow = await data.getRepository(RecipeEntity).findOneBy({ id: payload.recipeId });
    const revision = await data
      .getRepository(RevisionEntity)
      .findOneBy({ recipeId: payload.recipeId, number: payload.revision });
    if (!recipeRow || !revision) throw new UserError('no-recipe', 'The recipe of this render is gone.');
    const recipe = parseRecipe(revision.body);
    const stacks = await openStacks(studio, job.targetId);
    const rendered = await render(studio.pool, recipe, stacks, payload.node, {
      signal,
      onProgress: (share) => progress(share * 0.9),
      store: figureStore(data),
      storedFor: (graph) => imagesOnDisk(studio, graph, recipe),
    });
    const format: FileFormat = payload.format;
    const depth = depthOf(format, payload.depth);
    const id = randomUUID();
    const path = exportFile(studio.root, id, format);
    await writeWhole(path, await encode(rendered, format, depth, recipe, stacks));
    signal.throwIfAborted();
    await data.getRepository(ExportEntity).insert({
      id,
      targetId: job.targetId,
      recipeId: payload.recipeId,
      revision: payload.revision,
      fileName: `${plainName(recipeRow.name)}${payload.node ? `-${plainName(payload.node)}` : ''}-r${payload.revision}.${format}`,
      format,
      depth,
      bytes: String(await sizeOf(path)),
      width: rendered.picture.width,
      height: rendered.picture.height,
      report: rendered.report as never,
    });
    return { exportId: id, warnings: rendered.report.warnings };
  };
