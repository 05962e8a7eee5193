import type { Rect } from '@owl-loom/image/geometry/rect';
import { dependencyClosure, type Graph, measurementsOf } from '@owl-loom/engine/graph';
import type { Measurement } from '@owl-loom/engine/measurements/index';

/** Pixels of a band: 2 MB a plane, small enough to stop at, large enough to be worth a task. */
const BAND_PIXELS = 2 ** 19;
/** Pixels of a band that looks far about itself, at most. */
const TALLEST = 2 ** 22;
/** Pixels of a band at least, however little memory there is. */
const SMALLEST = 2 ** 14;

/** What bounds the size of bands. */
interface Bounds {
  /** Bytes that planes and bands may take; no limit where it is left out. */
  readonly memory?: number;
  /** Threads that each work on a band. */
  readonly threads: number;
}

/** Planes that a band has in memory at once: a window of each stack, and what is made of them. */
function planesInFlight({ nodes }: Graph, node: number): number {
  const stacks = dependencyClosure(nodes, node).map((n) => nodes[n].stack?.planes.length ?? 0);
  return stacks.reduce((sum, n) => sum + n, 0) + 6;
}

/** Bands shrink where many images are in flight at once and memory is short. */
function pixelsOfBand(graph: Graph, node: number, { memory, threads }: Bounds): number {
  if (memory === undefined) return BAND_PIXELS;
  const share = Math.floor(memory / 8 / threads / planesInFlight(graph, node) / 4);
  return Math.max(SMALLEST, Math.min(BAND_PIXELS, share));
}

/** Bytes of all bands of a node that are computed at once. */
export const bytesInFlight = (graph: Graph, node: number, bounds: Bounds): number =>
  pixelsOfBand(graph, node, bounds) * planesInFlight(graph, node) * 4 * bounds.threads;

/** Rows of a band. One that looks far about itself is as tall again, since what lies about a band is made anew for each. */
export function rowsOfBand(
  graph: Graph,
  figures: ReadonlyMap<string, Measurement>,
  node: number,
  rect: Rect,
  bounds: Bounds,
): number {
  const rows = Math.floor(pixelsOfBand(graph, node, bounds) / rect.width);
  const { kernel } = graph.nodes[node];
  const around =
    bounds.memory === undefined && kernel?.inputRoi
      ? kernel.inputRoi({ ...rect, height: 1 }, 0, 0, measurementsOf(graph.nodes[node], figures)).height
      : 0;
  return Math.max(1, Math.min(rect.height, Math.max(rows, Math.min(2 * around, Math.floor(TALLEST / rect.width)))));
}
