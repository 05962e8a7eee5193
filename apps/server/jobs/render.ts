import { randomUUID } from 'node:crypto';
import { UserError } from '@owl-loom/base/errors';
import type { Recipe } from '@owl-loom/recipe/schema';
import { parseRecipe } from '@owl-loom/recipe/parse';
import { ExportEntity, RecipeEntity, RevisionEntity, TargetEntity } from '../storage/db/entities';
import type { FileFormat, RenderRequest } from '@owl-loom/api/exports';
import { depthOf } from '../export/export';
import { heightFor } from '../export/finish';
import { render } from '../render/render';
import type { OpenStack } from '../pixels/open-stack';
import { requireDiskSpace } from '../system/disk-space';
import { fileNameFromPattern } from '@owl-loom/recipe/file-name';
import { renderBytes } from '../sync/memory-semaphore';
import type { JobHandler } from '../queue/job-work';
import { cachedImagesOf } from '../storage/disk-image-cache';
import { measurementStore } from '../storage/measurement-store';
import { openStacks } from '../services/stacks';
import { exportFile, previewFile } from '../services/export-files';
import type { Services } from '../services/services';
import { ensureIntact } from '../storage/integrity';

/** Pixels across of the small picture that stands for a file in a list. */
const PREVIEW = 320;

/** The size of the largest stacks. */
function largestOf(stacks: ReadonlyMap<string, OpenStack>): { width: number; height: number } {
  const sizes = [...stacks.values()].map(({ info }) => info);
  return { width: Math.max(...sizes.map((s) => s.width)), height: Math.max(...sizes.map((s) => s.height)) };
}

/** Bytes that a file may have at most: three planes of the largest stack, or of the part and size that are asked for. */
function mostBytes({ format, depth, crop, width }: RenderRequest, stacks: ReadonlyMap<string, OpenStack>): number {
  const part = crop ?? largestOf(stacks);
  const pixels = width === undefined ? part.width * part.height : width * heightFor(part, width);
  return Math.ceil((pixels * 3 * depthOf(format, depth)) / 8);
}

/** Renders and writes the file within the memory that both need. */
async function renderAndWrite(
  services: Services,
  {
    payload,
    recipe,
    stacks,
    id,
    depth,
  }: {
    payload: RenderRequest;
    recipe: Recipe;
    stacks: ReadonlyMap<string, OpenStack>;
    /** Of the export. */
    id: string;
    depth: number;
  },
  signal: AbortSignal,
  progress: (share: number) => void,
) {
  const max = renderBytes(largestOf(stacks), services.pool.threads);
  return await services.memorySemaphore.withBytes(max, signal, async () => {
    const rendered = await render(services.pool, recipe, stacks, payload.node, {
      signal,
      onProgress: (share) => progress(share * 0.9),
      store: measurementStore(services.data),
      storedFor: (graph) => cachedImagesOf(services, graph, recipe),
    });
    const { format, crop, width, profile, quality, impersonal, title, credits, caption } = payload;
    const written = await services.pool.file(
      {
        rendered,
        finish: { crop, width, profile },
        format,
        depth,
        recipe,
        opened: stacks,
        said: { quality, impersonal, title, credits, caption },
        path: exportFile(services.root, id, format),
        preview: { path: previewFile(services.root, id), across: PREVIEW },
      },
      signal,
    );
    return { rendered, written };
  });
}

/** Renders a saved revision at full size and keeps the file. */
export const renderJob =
  (services: Services): JobHandler<'render'> =>
  async ({ payload, targetId, signal, progress }) => {
    const { data } = services;
    const recipeRow = await data.getRepository(RecipeEntity).findOneBy({ id: payload.recipeId });
    const revision = await data
      .getRepository(RevisionEntity)
      .findOneBy({ recipeId: payload.recipeId, number: payload.revision });
    if (!recipeRow || !revision) throw new UserError('no-recipe', 'The recipe of this export was deleted.');
    const recipe = parseRecipe(revision.body);
    await ensureIntact(services, targetId, { recipe });
    const stacks = await openStacks(services, targetId);
    const target = await data.getRepository(TargetEntity).findOneBy({ id: targetId });
    await requireDiskSpace(services.root, mostBytes(payload, stacks), 'Writing this file');
    const format: FileFormat = payload.format;
    const depth = depthOf(format, payload.depth);
    const id = randomUUID();
    const { rendered, written } = await renderAndWrite(
      services,
      { payload, recipe, stacks, id, depth },
      signal,
      progress,
    );
    const more = written.warnings.map((message) => ({ path: 'cloth', message }));
    const report = { ...rendered.report, warnings: [...rendered.report.warnings, ...more] };
    signal.throwIfAborted();
    await data.getRepository(ExportEntity).insert({
      id,
      targetId,
      recipeId: payload.recipeId,
      revision: payload.revision,
      fileName: fileNameFromPattern(payload.called, {
        recipe: recipeRow.name,
        target: target?.name ?? '',
        what: payload.node ?? '',
        state: String(payload.revision),
        width: String(written.width),
        date: new Date().toISOString().slice(0, 10),
        format,
      }),
      request: payload,
      sum: written.sum,
      format,
      depth,
      bytes: String(written.bytes),
      width: written.width,
      height: written.height,
      report,
    });
    return { exportId: id, warnings: report.warnings };
  };
