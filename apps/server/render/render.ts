import { stepTitle } from '@owl-loom/recipe/names';
import { UserError } from '@owl-loom/base/errors';
import { type Graph, dependencyClosure, type RecipeDiagnostic, type RecipeError } from '@owl-loom/engine/graph';
import { tallyWarnings, reportOf } from '@owl-loom/engine/measurement-plan';
import type { Recipe } from '@owl-loom/recipe/schema';
import { stepOwners } from '@owl-loom/recipe/walk';
import { GraphExecutor } from './graph-executor';
import type { RunOptions } from './run-options';
import { sourceOfTurned, turnInFrame } from '@owl-loom/image/geometry/turned';
import { clothExtent, extentMeasurements } from './extent';
import type { StoredImages } from './image-renderer';
import { isIdentityOrientation } from '../worker-tasks/orient';
import type { WorkerPool } from '../workers/worker-pool';
import { buildGraphInput } from './build-graph-input';
import type { OpenStack } from '../pixels/open-stack';
import type { Rendered } from '../export/rendered';

/** The node that a name stands for: a strand, a layer, or a path; the cloth where none is given. */
export function resolveNode(graph: Graph, recipe: Recipe, id?: string): number {
  const faultOf = (path: string) =>
    graph.faults.find(
      (error) => error.path === path || error.path.startsWith(`${path}.`) || error.path.startsWith(`${path}[`),
    );
  if (id === undefined) {
    if (graph.cloth !== undefined) return graph.cloth;
    const fault = faultOf('cloth') ?? graph.faults[0];
    if (fault) throw errorAt(recipe, fault);
    throw new UserError('no-cloth', 'This recipe has no cloth. Add layers, or choose a strand with --node.');
  }
  const node = graph.strands.get(id) ?? graph.layers.get(id) ?? graph.byPath.get(id);
  if (node !== undefined) return node;
  // What is there and cannot be made says why; what is not there at all says so, whatever else is at fault.
  const fault = faultOf(placeOf(recipe, id) ?? id);
  if (fault) throw errorAt(recipe, fault);
  throw new UserError(
    'no-node',
    `Strand or layer “${id}” not found. Available: ${[...graph.strands.keys(), ...graph.layers.keys()].join(', ')}.`,
  );
}

const errorAt = (recipe: Recipe, { code, message, path }: RecipeError): UserError =>
  new UserError(code, message, path, stepTitle(recipe, path) || undefined);

/** Path of the strand or layer of a name. */
const placeOf = (recipe: Recipe, id: string): string | undefined =>
  [...stepOwners(recipe)].find((owner) => owner.id === id && owner.kind !== 'mask')?.path;

/** Warnings about what the picture is made of; those of parts that do not touch it are left out. */
function warningsFor(graph: Graph, nodes: readonly number[]): RecipeDiagnostic[] {
  const paths = nodes.map((n) => graph.nodes[n].path);
  return graph.warnings.filter((w) =>
    paths.some((path) => w.path === path || w.path.startsWith(`${path}.`) || path.startsWith(`${w.path}.`)),
  );
}

/** Renders a recipe's cloth, or one of its strands, at full size. */
export async function render(
  pool: WorkerPool,
  recipe: Recipe,
  stacks: ReadonlyMap<string, OpenStack>,
  nodeId?: string,
  { storedFor, ...options }: RunOptions & { readonly storedFor?: (graph: Graph) => Promise<StoredImages> } = {},
): Promise<Rendered> {
  const { graph, scene } = buildGraphInput(recipe, stacks);
  const node = resolveNode(graph, recipe, nodeId);
  const executor = new GraphExecutor(pool, graph, scene, { ...options, stored: await storedFor?.(graph) });

  const isCloth = nodeId === undefined;
  await executor.measure(node, isCloth ? extentMeasurements(graph) : []);

  const extent = isCloth ? clothExtent(graph, recipe, executor.figures) : graph.frame;
  const orientation = isCloth ? recipe.cloth?.orient : undefined;
  const raster = await executor.render(node, sourceOfTurned(extent, turnInFrame(orientation), graph.frame));
  const turned = isIdentityOrientation(orientation)
    ? raster
    : await pool.orient({ raster, orientation, cut: extent }, options);
  const nodes = dependencyClosure(graph.nodes, node);
  return {
    picture: {
      width: turned.rect.width,
      height: turned.rect.height,
      planes: turned.planes,
      stretched: graph.nodes[node].domain === 'stretched',
    },
    frameStack: graph.frameStack,
    extent,
    oriented: !isIdentityOrientation(orientation),
    stacks: [...new Set(nodes.flatMap((n) => graph.nodes[n].stack?.name ?? []))],
    paths: [...new Set(nodes.map((n) => graph.nodes[n].path))],
    report: {
      measured: reportOf(graph, [...new Set([...nodes, ...executor.times.keys()])], executor.figures),
      warnings: [...warningsFor(graph, nodes), ...tallyWarnings(graph, executor.tallies)],
      nodes: [...executor.times].map(([n, ms]) => ({ id: graph.nodes[n].path, ms: Math.round(ms * 10) / 10 })),
      peakMemory: process.resourceUsage().maxRSS * 1024,
    },
  };
}
