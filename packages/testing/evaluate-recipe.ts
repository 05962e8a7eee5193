import { buildGraph } from '@owl-loom/engine/build/graph-builder';
import { Evaluator, type TallyMap } from '@owl-loom/engine/evaluator';
import type { Measurement } from '@owl-loom/engine/measurements/index';
import type { Graph, StackInfo } from '@owl-loom/engine/graph';
import { runMeasurement } from '@owl-loom/engine/measurements/measure';
import {
  propagateMeasurement,
  measurementsRequiredBy,
  reportOf,
  directPlan,
  cheapestPlan,
  withPrerequisites,
} from '@owl-loom/engine/measurement-plan';
import { downsample2x, rectAtLevel, levelSize } from '@owl-loom/image/pyramid/pyramid';
import type { Raster } from '@owl-loom/image/raster/raster';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { Recipe, Strand } from '@owl-loom/recipe/schema';

/** A stack in memory. */
export interface TestStack {
  readonly width: number;
  readonly height: number;
  readonly planes: readonly Float32Array[];
  readonly domain?: 'linear' | 'stretched';
  readonly exposure?: number;
}

export const infoOf = (name: string, stack: TestStack): StackInfo => ({
  id: name,
  width: stack.width,
  height: stack.height,
  planes: stack.planes.length as 1 | 3,
  domain: stack.domain ?? 'linear',
  exposure: stack.exposure,
});

/** A mono stack filled by a function of the pixel. */
export const mono = (width: number, height: number, value: (x: number, y: number) => number): TestStack => ({
  width,
  height,
  planes: [Float32Array.from({ length: width * height }, (_, i) => value(i % width, Math.floor(i / width)))],
});

/** What a recipe gives at a path, with everything measured: the engine's parts in one thread, without files. */
export function evaluateRecipe(
  recipe: Recipe,
  stacks: Readonly<Record<string, TestStack>>,
  path = 'cloth',
  rect?: Rect,
): {
  raster: Raster;
  graph: Graph;
  measured: Record<string, unknown>;
  figures: Map<string, Measurement>;
  tallies: TallyMap;
} {
  const graph = graphOf(recipe, stacks);
  const node = graph.byPath.get(path);
  if (node === undefined) throw new Error(`nothing at ${path}: ${JSON.stringify(graph.faults)}`);
  const figures = new Map<string, Measurement>();
  const run = (n: number, window: Rect): { raster: Raster; evaluator: Evaluator } => {
    const evaluator = new Evaluator(graph, figures, 0);
    const { raster } = evaluator.run(evaluator.plan(n, window), (name, plane) => {
      const { width, height, planes } = stacks[name];
      return { rect: { x: 0, y: 0, width, height }, pixels: planes[plane] };
    });
    return { raster, evaluator };
  };
  for (const { spec, key } of withPrerequisites(graph, measurementsRequiredBy(graph, node))) {
    const way = cheapestPlan(graph, spec);
    const carried = way.by === 'carrying' ? propagateMeasurement(graph, way, figures) : undefined;
    const { images, dependencies: on } = way.by === 'measuring' ? way : directPlan(graph, spec);
    const known = () => on.map((under) => figures.get(under.key)).filter((figure) => figure !== undefined);
    const pixels = () => images.map((image) => run(image.node, image.rect).raster);
    figures.set(key, carried ?? runMeasurement(spec, pixels(), known()));
  }
  const { raster, evaluator } = run(node, rect ?? graph.frame);
  return {
    raster,
    graph,
    measured: reportOf(
      graph,
      graph.nodes.map((_, i) => i),
      figures,
    ),
    figures,
    tallies: evaluator.tallies,
  };
}

/** A recipe with these strands, and a cloth if given. */
export const recipeOf = (strands: Recipe['strands'], cloth?: Recipe['cloth']): Recipe => ({
  format: 'owl-loom-recipe',
  version: 1,
  strands,
  ...(cloth && { cloth }),
});

/** A stack of one pixel. */
export const onePixelStack = (value: number): TestStack => mono(1, 1, () => value);

/** A strand from the stack of its name. */
export const strand = (id: string, steps: Strand['steps'] = []): Strand => ({ id, from: { stack: id }, steps });

/** The graph of a recipe over stacks in memory. */
export const graphOf = (recipe: Recipe, stacks: Readonly<Record<string, TestStack>>): Graph =>
  buildGraph(recipe, new Map(Object.entries(stacks).map(([name, stack]) => [name, infoOf(name, stack)])));

/** Windows of a woven image on a coarser level, from that level of the stacks, under the measurements of full size. */
export function evaluateOnLevel(
  { graph, figures }: Pick<ReturnType<typeof evaluateRecipe>, 'graph' | 'figures'>,
  stacks: Readonly<Record<string, TestStack>>,
  path: string,
  level: number,
): (rect: Rect) => Raster {
  const node = graph.byPath.get(path);
  if (node === undefined) throw new Error(`nothing at ${path}`);
  const coarse = new Map(
    Object.entries(stacks).map(([name, { width, height, planes }]) => {
      const halved = planes.map((plane) => {
        let [made, w, h] = [plane, width, height];
        for (let l = 0; l < level; l++) [made, w, h] = [downsample2x(made, w, h), levelSize(w, 1), levelSize(h, 1)];
        return made;
      });
      return [name, { rect: rectAtLevel({ x: 0, y: 0, width, height }, level), planes: halved }];
    }),
  );
  return (rect) => {
    const evaluator = new Evaluator(graph, figures, level);
    return evaluator.run(evaluator.plan(node, rect), (name, plane) => {
      const stack = coarse.get(name);
      if (!stack) throw new Error(`no stack ${name}`);
      return { rect: stack.rect, pixels: stack.planes[plane] };
    }).raster;
  };
}
