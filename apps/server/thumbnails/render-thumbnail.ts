import type { Graph } from '@owl-loom/engine/graph';
import { rectAtLevel } from '@owl-loom/image/pyramid/pyramid';
import { sourceOfTurned, turnInFrame } from '@owl-loom/image/geometry/turned';
import type { Recipe } from '@owl-loom/recipe/schema';
import { GraphExecutor } from '../render/graph-executor';
import { clothExtent, extentMeasurements } from '../render/extent';
import type { GraphInput } from '../worker-tasks/graph-input';
import { thumbnailLevel } from '../worker-tasks/encode-thumbnail';
import type { JobRun } from '../queue/job-work';
import { measurementStore } from '../storage/measurement-store';
import type { Services } from '../services/services';

/**
 * A recipe's finished picture from a coarse level of its stacks, under the measurements of full size.
 * @param across pixels across that it has at least, where the stacks have as many
 * @returns a JPEG
 */
export async function renderThumbnail(
  services: Services,
  { graph, scene, recipe, node }: { graph: Graph; scene: GraphInput; recipe: Recipe; node: number },
  { signal, progress }: Pick<JobRun, 'signal' | 'progress'>,
  across?: number,
): Promise<Uint8Array> {
  const store = measurementStore(services.data);
  const executor = new GraphExecutor(services.pool, graph, scene, { signal, onProgress: progress, store });
  await executor.measure(node, extentMeasurements(graph));
  const extent = clothExtent(graph, recipe, executor.figures);
  const level = thumbnailLevel(graph.frame, extent, across);
  const orientation = recipe.cloth?.orient;
  const cut = rectAtLevel(extent, level);
  const source = sourceOfTurned(cut, turnInFrame(orientation), rectAtLevel(graph.frame, level));
  const raster = await executor.renderAtLevel(node, source, level);
  const stretched = graph.nodes[node].domain === 'stretched';
  return services.pool.small({ raster, orientation, cut, stretched }, signal);
}
