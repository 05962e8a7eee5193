import { LRUCache } from 'lru-cache';
import type { Graph } from '@owl-loom/engine/graph';
import type { Raster } from '@owl-loom/image/raster/raster';
import type { Rect } from '@owl-loom/image/geometry/rect';

/** Bytes of images at the cut that are kept: some dozens of windows as large as the screen. */
const KEPT_BYTES = 256 * 2 ** 20;

const bytesOf = ({ planes }: Raster): number =>
  Math.max(
    1,
    planes.reduce((sum, plane) => sum + plane.byteLength, 0),
  );

const covers = (outer: Rect, inner: Rect): boolean =>
  inner.x >= outer.x &&
  inner.y >= outer.y &&
  inner.x + inner.width <= outer.x + outer.width &&
  inner.y + inner.height <= outer.y + outer.height;

/**
 * The images that have stayed as they were from one state of a recipe to the next and are read by one that has changed: whatever lies
 * before them need not be made again while a slider moves, wherever it sits. Stacks are read as quickly as anything that is kept.
 * @param before hashes of the images of the state before
 */
export function reuseFrontier(graph: Graph, before: ReadonlySet<string>): ReadonlySet<number> {
  const same = (index: number) => before.has(graph.nodes[index].hash);
  const changed = graph.nodes.filter((node) => !same(node.node));
  const read = changed.flatMap((node) => node.inputs);
  return new Set(read.filter((index) => same(index) && graph.nodes[index].stack === undefined));
}

/** Images at the cut, made a moment ago. Names must hold all that their pixels depend on, the measurements too. */
export class FrontierCache {
  private readonly kept = new LRUCache<string, Raster>({ maxSize: KEPT_BYTES, sizeCalculation: bytesOf });

  /** A kept image whose pixels reach over a window; it may be larger. */
  get(name: string, window: Rect): Raster | undefined {
    const found = this.kept.get(name);
    return found && covers(found.rect, window) ? found : undefined;
  }

  put(name: string, raster: Raster): void {
    this.kept.set(name, raster);
  }
}
