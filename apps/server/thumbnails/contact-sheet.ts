import type { Sheet, SheetEntry } from '@owl-loom/api/palettes';
import { readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { frameImageId } from '@owl-loom/engine/graph';
import { contentKey } from '@owl-loom/base/content-hash';
import { measurementsRequiredBy } from '@owl-loom/engine/measurement-plan';
import { userMessageOf, UserError } from '@owl-loom/base/errors';
import { MEASUREMENT_KINDS } from '@owl-loom/engine/measurements/index';
import { withPreparation, type StackAssessment } from '@owl-loom/recipe/palettes/prepare';
import { missingFilters, type Palette, type FilteredStack, recipeFromPalette } from '@owl-loom/recipe/palettes/palette';
import { BUILT_IN_PALETTES } from '@owl-loom/recipe/palettes/built-in';
import { rectAtLevel } from '@owl-loom/image/pyramid/pyramid';
import type { Recipe } from '@owl-loom/recipe/schema';
import { PaletteEntity, StackEntity } from '../storage/db/entities';
import { writeAtomically } from '../system/write-atomically';
import { GraphExecutor } from '../render/graph-executor';
import { shareMeasurement } from '../worker-tasks/shared-measurement';
import { resolveNode } from '../render/render';
import { buildGraphInput } from '../render/build-graph-input';
import { sharedRaster } from '../pixels/shared-raster';
import { thumbnailLevel } from '../worker-tasks/encode-thumbnail';
import type { OpenStack } from '../pixels/open-stack';
import { assessStacks } from '../stacks/stack-assessment';
import type { JobHandler, JobRun } from '../queue/job-work';
import { resolveKnown } from '../storage/known-measurements';
import { measurementStore } from '../storage/measurement-store';
import { openStacks } from '../services/stacks';
import type { Services } from '../services/services';
import { ensureIntact } from '../storage/integrity';

export const sheetsDir = (root: string): string => join(root, 'sheets');

function entryOf(palette: Palette & { id?: string }, pictures: Pictures): SheetEntry {
  const { id, name, says } = palette;
  const { rows, ground } = pictures;
  const missing = missingFilters(palette, rows);
  if (missing.length > 0) return { id, name, says, missing, ready: false };
  const recipe = withPreparation(recipeFromPalette(palette, rows), ground);
  try {
    const { graph } = buildGraphInput(recipe, pictures.stacks);
    const picture = `${pictures.targetId}.${contentKey(frameImageId(graph, resolveNode(graph, recipe)))}.jpg`;
    const trouble = pictures.unwoven.get(picture);
    return { id, name, says, missing, recipe, picture, ready: pictures.there.has(picture), trouble };
  } catch (error) {
    if (!(error instanceof UserError)) throw error;
    return { id, name, says, missing, recipe, ready: false, trouble: userMessageOf(error) };
  }
}

/** What is known of a target when its sheet is made. */
interface Pictures {
  readonly targetId: string;
  readonly rows: readonly FilteredStack[];
  readonly stacks: Map<string, OpenStack>;
  readonly ground: StackAssessment;
  readonly there: ReadonlySet<string>;
  readonly unwoven: ReadonlyMap<string, string>;
}

const picturesOf = async (services: Services, targetId: string): Promise<string[]> =>
  (await readdir(sheetsDir(services.root))).filter((name) => name.startsWith(`${targetId}.`));

/** Palettes that people kept, newest first. */
export async function ownPalettes({ data }: Services): Promise<(Palette & { id: string })[]> {
  const rows = await data.getRepository(PaletteEntity).find({ order: { createdAt: 'DESC' } });
  return rows.map(({ id, name, says, body }) => ({ id, name, says, recipe: body }));
}

/** Every palette, those of this target's filters first as recipes for it, begun as its stacks need it. */
export async function contactSheetOf(services: Services, targetId: string): Promise<Sheet> {
  const rows = await services.data
    .getRepository(StackEntity)
    .find({ where: { targetId }, order: { createdAt: 'ASC' } });
  const stacks = await openStacks(services, targetId);
  const ground = await assessStacks(services, targetId);
  const there = new Set(await picturesOf(services, targetId));
  const palettes = [...(await ownPalettes(services)), ...BUILT_IN_PALETTES];
  const pictures = { targetId, rows, stacks, ground, there, unwoven: services.renderErrors };
  const entries = palettes.map((palette) => entryOf(palette, pictures));
  const able = (entry: SheetEntry): number => Number(entry.missing.length > 0);
  return { entries: entries.sort((a, b) => able(a) - able(b)), ground };
}

/** Whether the sheet lacks a picture that can be woven. */
export const isComplete = ({ entries }: Sheet): boolean =>
  entries.every(({ picture, ready, trouble }) => picture === undefined || ready || trouble !== undefined);

/** Weaves one palette on a coarse level. What only stars can tell is measured truly, the rest on that level. */
async function weave(services: Services, stacks: Map<string, OpenStack>, recipe: Recipe, { signal }: JobRun) {
  const { graph, scene } = buildGraphInput(recipe, stacks);
  const node = resolveNode(graph, recipe);
  const store = measurementStore(services.data);
  const executor = new GraphExecutor(services.pool, graph, scene, { signal, store });
  const needed = measurementsRequiredBy(graph, node);
  await executor.measure(
    undefined,
    needed.filter(({ spec }) => MEASUREMENT_KINDS[spec.kind].placeholder !== undefined),
  );
  for (const figure of needed) await resolveKnown(graph, figure, executor.figures, store);
  const level = thumbnailLevel(graph.frame, graph.frame);
  const rect = rectAtLevel(graph.frame, level);
  const { planes, domain } = graph.nodes[node];
  const out = sharedRaster(rect, planes);
  const figures = [...executor.figures].map(([key, figure]) => shareMeasurement(key, figure));
  await services.pool.sketch({ scene, figures, node, rect, level, out: out.planes }, { signal });
  return services.pool.small({ raster: out, stretched: domain === 'stretched' }, signal);
}

/** Weaves the pictures of a contact sheet that are not there yet, as many side by side as there are cores. */
export const sheetJob =
  (services: Services): JobHandler<'sheet'> =>
  async (run) => {
    const { targetId } = run;
    await ensureIntact(services, targetId);
    const { entries } = await contactSheetOf(services, targetId);
    const stacks = await openStacks(services, targetId);
    const wanted = entries.filter(({ picture, ready, trouble }) => picture && !ready && !trouble);
    let done = 0;
    const left = [...wanted];
    // From both ends: at the far one stand those that take long, since stars must be measured for them.
    const take = async (thread: number): Promise<void> => {
      const next = () => (thread % 2 === 0 ? left.shift() : left.pop());
      for (let entry = next(); entry; entry = next()) {
        run.signal.throwIfAborted();
        const { recipe, picture } = entry;
        if (!recipe || !picture) continue;
        try {
          await writeAtomically(join(sheetsDir(services.root), picture), [await weave(services, stacks, recipe, run)]);
        } catch (error) {
          if (!(error instanceof UserError) || run.signal.aborted) throw error;
          services.renderErrors.set(picture, userMessageOf(error));
        }
        done++;
        run.progress(done / wanted.length);
      }
    };
    await Promise.all(Array.from({ length: services.pool.threads }, (_, thread) => take(thread)));
    // Pictures of what the stacks or the palettes were before.
    const current = new Set(entries.map(({ picture }) => picture));
    for (const name of await picturesOf(services, targetId))
      if (!current.has(name)) await rm(join(sheetsDir(services.root), name), { force: true });
    return null;
  };

/** Takes the pictures of a removed target away. */
export async function dropSheet(services: Services, targetId: string): Promise<void> {
  for (const name of await picturesOf(services, targetId))
    await rm(join(sheetsDir(services.root), name), { force: true });
}
