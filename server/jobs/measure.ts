import { z } from 'zod';
import { FIGURE_KINDS, type Figure } from '../../core/figures/index';
import type { Graph } from '../../core/engine/graph';
import {
  carriedFigure,
  figuresFor,
  type PlannedFigure,
  planned,
  type Wanted,
  wantedSpecs,
  wayTo,
  withBehind,
  withUnder,
} from '../../core/engine/plan';
import { unmeasurable } from '../../core/engine/measurement-failures';
import { placeName } from '../../core/recipe/names';
import { parseRecipe } from '../../core/recipe/parse';
import type { Recipe } from '../../core/recipe/schema';
import { Executor } from '../render/executor';
import type { FigureStore, Measuring } from '../render/run-options';
import { sceneOf } from '../render/scene';
import type { JobHandler } from './jobs';
import { imagesOnDisk } from './kept-images';
import { figureStore } from './figure-store';
import { type Studio, openStacks } from './studio';
import { seeWhole } from './wholeness';

export const measurePayload = z.strictObject({
  recipe: z.unknown(),
  /** Paths whose pixels are wanted. */
  paths: z.array(z.string().max(200)).max(50),
  /** Figures wanted besides, for people to look at. */
  also: z
    .array(
      z.strictObject({ figure: z.enum(['tone', 'counts', 'continuum', 'marks', 'ends']), path: z.string().max(200) }),
    )
    .max(100),
});

export interface MeasureRequest {
  readonly recipe: Recipe;
  readonly paths: readonly string[];
  readonly also: readonly Wanted[];
}

/** The figures that a request needs. */
export function wantedFigures(graph: Graph, request: Pick<MeasureRequest, 'paths' | 'also'>): PlannedFigure[] {
  const also = request.also.flatMap((wanted) => wantedSpecs(graph, wanted));
  const nodes = request.paths.flatMap((path) => graph.byPath.get(path) ?? []);
  // The finished cloth shows only what all of its strands cover, where that is asked for.
  const common = graph.common && request.paths.includes('cloth') ? [graph.common] : [];
  const own = [...common, ...also].map((spec) => planned(graph, spec));
  return withBehind(graph, [...nodes.flatMap((node) => figuresFor(graph, node)), ...own]);
}

/** Looks for a figure that is kept, or that follows by algebra from what is, and adds it to those that are known. */
export async function follow(
  graph: Graph,
  { spec, key }: PlannedFigure,
  known: Map<string, Figure>,
  store: FigureStore,
): Promise<boolean> {
  if (known.has(key)) return true;
  const kept = await store.get(key);
  if (kept) {
    known.set(key, kept);
    return true;
  }
  const way = wayTo(graph, spec);
  if (way.by !== 'carrying') return false;
  for (const under of way.on) if (!(await follow(graph, under, known, store))) return false;
  const carried = carriedFigure(graph, way, known);
  if (!carried) return false;
  known.set(key, carried);
  await store.set(key, carried);
  return true;
}

/**
 * What is known already of the wanted figures and what is known to fail, by key, why the pictures of the paths cannot be finished, and whether
 * that is all that can be had.
 */
export async function knownFigures(
  studio: Studio,
  targetId: string,
  request: MeasureRequest,
): Promise<{
  figures: Record<string, Figure>;
  failed: Record<string, string>;
  obstacle: string | null;
  complete: boolean;
}> {
  const stacks = await openStacks(studio, targetId);
  const { graph } = sceneOf(request.recipe, stacks);
  const wanted = wantedFigures(graph, request);
  const known = new Map<string, Figure>();
  const store = figureStore(studio.data);
  for (const item of wanted) await follow(graph, item, known, store);
  const isLost = unmeasurable(graph, studio.failed);
  const figures: Record<string, Figure> = {};
  const failuresOf = (items: readonly PlannedFigure[]): [string, string][] =>
    withUnder(graph, items).flatMap(({ key }) => {
      const message = studio.failed.get(key);
      return message === undefined ? [] : [[key, message]];
    });
  const failed = Object.fromEntries(failuresOf(wanted));
  const [obstacle] = failuresOf(wantedFigures(graph, { ...request, also: [] }));
  for (const { key } of wanted) {
    const figure = known.get(key);
    if (figure) figures[key] = figure;
  }
  return {
    figures,
    failed,
    obstacle: obstacle?.[1] ?? null,
    complete: wanted.every((item) => figures[item.key] !== undefined || isLost(item)),
  };
}

/** Which measurement is at work, as people read it: "the stars of Ha, 2 of 5". */
const measuringInWords = ({ nodes, recipe }: Graph, { spec, number, of }: Measuring): string =>
  `${FIGURE_KINDS[spec.kind].called} ${placeName(recipe, nodes[spec.nodes[0]].path)}, ${number} of ${of}`;

/**
 * Measures what is missing; the figures go into the database, where the page asks for them again. What the images do not allow to measure is
 * remembered; the job fails where the picture of a path depends on it.
 */
export const measureJob =
  (studio: Studio): JobHandler =>
  async ({ job, targetId, signal, progress, doing }) => {
    const { paths, also, ...payload } = measurePayload.parse(job.payload);
    const recipe = parseRecipe(payload.recipe);
    await seeWhole(studio, targetId, { recipe, urgent: true });
    const stacks = await openStacks(studio, targetId);
    const { graph, scene } = sceneOf(recipe, stacks);
    const store = figureStore(studio.data);
    const stored = await imagesOnDisk(studio, graph, recipe);
    const onMeasuring = (now: Measuring) => doing(measuringInWords(graph, now));
    const how = { signal, onProgress: progress, onMeasuring, store, stored, urgent: true, pastFailures: true };
    const isLost = unmeasurable(graph, studio.failed);
    const executor = new Executor(studio.pool, graph, scene, how);
    try {
      await executor.measure(
        undefined,
        wantedFigures(graph, { paths, also }).filter((item) => !isLost(item)),
      );
    } catch (error) {
      for (const [key, { message }] of executor.failures) studio.failed.set(key, message);
      const isNeeded = wantedFigures(graph, { paths, also: [] }).some(unmeasurable(graph, studio.failed));
      if (executor.failures.size === 0 || isNeeded) throw error;
    }
    return null;
  };
