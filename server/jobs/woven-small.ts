import type { Graph } from '../../core/engine/graph';
import { levelRect } from '../../core/raster/levels';
import { sourceOfTurned, turnInFrame } from '../../core/raster/turned';
import type { Recipe } from '../../core/recipe/schema';
import { Executor } from '../render/executor';
import { clothExtent, extentFigures } from '../render/extent';
import type { Scene } from '../render/opened';
import { smallLevel } from '../render/small';
import type { JobRun } from './jobs';
import { figureStore } from './figure-store';
import type { Studio } from './studio';

/**
 * A recipe's finished picture from a coarse level of its stacks, under the figures of full size.
 * @param across pixels across that it has at least, where the stacks have as many
 * @returns a JPEG
 */
export async function wovenSmall(
  studio: Studio,
  { graph, scene, recipe, node }: { graph: Graph; scene: Scene; recipe: Recipe; node: number },
  { signal, progress }: Pick<JobRun, 'signal' | 'progress'>,
  across?: number,
): Promise<Uint8Array> {
  const store = figureStore(studio.data);
  const executor = new Executor(studio.pool, graph, scene, { signal, onProgress: progress, store });
  await executor.measure(node, extentFigures(graph));
  const extent = clothExtent(graph, recipe, executor.figures);
  const level = smallLevel(graph.frame, extent, across);
  const orientation = recipe.cloth?.orient;
  const cut = levelRect(extent, level);
  const source = sourceOfTurned(cut, turnInFrame(orientation), levelRect(graph.frame, level));
  const raster = await executor.small(node, source, level);
  const stretched = graph.nodes[node].domain === 'stretched';
  return studio.pool.small({ raster, orientation, cut, stretched }, signal);
}
