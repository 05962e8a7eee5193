import { addTally, type TallyMap } from '@owl-loom/engine/evaluator';
import type { Graph } from '@owl-loom/engine/graph';
import type { TallyKind } from '@owl-loom/image/pixel-function';
import { measurementsRequiredBy } from '@owl-loom/engine/measurement-plan';
import { UserError } from '@owl-loom/base/errors';
import type { Measurement } from '@owl-loom/engine/measurements/index';
import { type Rect, sameRect } from '@owl-loom/image/geometry/rect';
import type { TallyByHash, CachedImage } from '../workers/image-cache';
import { shareMeasurement, type SharedMeasurement } from '../worker-tasks/shared-measurement';
import type { WorkerPool, TaskOptions } from '../workers/worker-pool';
import { bytesInFlight, rowsOfBand } from './band-size';
import type { SharedRaster } from '../pixels/shared-raster';
import type { SourceSpec } from '../pixels/sources';
import { loadPixels } from './stack';
import type { GraphInput } from '../worker-tasks/graph-input';
import { inputsToMaterialise } from './materialised-inputs';
import { entriesOf } from '@owl-loom/base/typed-keys';

/** An image that lies on disk at full size, and what was counted when it was made. */
export interface StoredImage {
  readonly source: SourceSpec;
  readonly counted: TallyByHash;
}

/** The images of the frame that lie on disk, by their nodes. */
export interface StoredImages {
  has(node: number): boolean;
  read(node: number): Promise<StoredImage>;
}

export interface MakerOptions extends TaskOptions {
  readonly stored?: StoredImages;
  /** Bytes that planes and bands may take. */
  readonly memory?: number;
  /** Told of the share of an image that is done, from one time to the next. */
  readonly onStep: (share: number) => void;
}

/** An image on its way, and how many wait for it. */
interface Making {
  readonly image: Promise<CachedImage>;
  waiting: number;
}

export const keyOfImage = ({ node, rect }: { node: number; rect: Rect }): string =>
  `${node} ${rect.x} ${rect.y} ${rect.width} ${rect.height}`;

/** Makes whole images of a graph at full size, in bands over all cores, once the measurements that they depend on are known. */
export class ImageRenderer {
  /** Pixels counted on the way, by node. */
  readonly tallies: TallyMap = new Map();
  /** Milliseconds spent in each node's own kernel. */
  readonly times = new Map<number, number>();
  /** Bytes of images that are held. */
  heldBytes = 0;
  private readonly making = new Map<string, Making>();

  constructor(
    private readonly pool: WorkerPool,
    private readonly graph: Graph,
    private readonly scene: GraphInput,
    private readonly figures: ReadonlyMap<string, Measurement>,
    private readonly options: MakerOptions,
  ) {}

  /**
   * An image made whole, or kept from before; held until it is let go.
   * @param priority of the work, see {@link TaskOptions}
   */
  async acquire(node: number, rect: Rect, priority = 0): Promise<CachedImage> {
    const { hash } = this.graph.nodes[node];
    const kept = this.pool.images.acquire(hash, rect);
    if (kept) {
      this.recount(kept.counted);
      this.options.onStep(1);
      return kept;
    }
    const key = keyOfImage({ node, rect });
    const before = this.making.get(key);
    if (before) {
      before.waiting++;
      return before.image;
    }
    const make = async (): Promise<CachedImage> => {
      try {
        const made = (await this.fromDisk(node, rect)) ?? (await this.whole(node, rect, priority));
        return this.pool.images.keep({ hash, ...made }, this.making.get(key)?.waiting ?? 1);
      } finally {
        this.making.delete(key);
      }
    };
    const making: Making = { image: make(), waiting: 1 };
    this.making.set(key, making);
    return making.image;
  }

  /** An image of the frame that lies on disk. */
  private async fromDisk(
    node: number,
    rect: Rect,
  ): Promise<{ raster: SharedRaster; counted: TallyByHash } | undefined> {
    const { frame, nodes } = this.graph;
    const { stored } = this.options;
    if (!stored?.has(node) || !sameRect(rect, frame)) return undefined;
    const found = await stored.read(node);
    const { planes } = nodes[node];
    const raster = await loadPixels(this.pool, found.source, { ...frame, planes }, { signal: this.options.signal });
    this.recount(found.counted);
    this.options.onStep(1);
    return { raster, counted: found.counted };
  }

  /** A picture of a coarse level, from that level's pixels alone: in one piece, since it is small. */
  async small(node: number, rect: Rect, level: number): Promise<SharedRaster> {
    const out = this.pool.images.take(rect, this.graph.nodes[node].planes);
    const figures = this.passedFor(node);
    const task = { scene: this.scene, figures, node, rect, out: out.planes, outRect: rect, given: [], level };
    await this.pool.band(task, this.options);
    return out;
  }

  bytesOf(node: number, rect: Rect): number {
    return rect.width * rect.height * this.graph.nodes[node].planes * 4;
  }

  /** The node's pixels in `rect`, whole in shared memory, and what was counted on the way. */
  async whole(node: number, rect: Rect, priority = 0): Promise<{ raster: SharedRaster; counted: TallyByHash }> {
    const { planes } = this.graph.nodes[node];
    const { memory } = this.options;
    const inFlight = bytesInFlight(this.graph, node, { memory, threads: this.pool.threads });
    const bytes = rect.width * rect.height * planes * 4 + this.heldBytes + inFlight;
    if (memory !== undefined && bytes > memory) {
      const needed = Math.ceil(bytes / 2 ** 20) + 1;
      throw new UserError(
        'memory',
        `This picture needs at least ${needed} MB of memory, but only ${Math.floor(memory / 2 ** 20)} MB are allowed; raise --memory or crop the picture.`,
      );
    }
    // What is kept for later makes room for what is needed now.
    if (memory !== undefined) this.pool.images.shrink(memory - bytes);
    const rows = rowsOfBand(this.graph, this.figures, node, rect, { memory, threads: this.pool.threads });
    const given = await this.materialisedInputs(node, rect, rows, priority);
    try {
      const counted: TallyMap = new Map();
      const raster = await this.inBands(node, rect, rows, given, counted, priority);
      this.count(counted);
      return { raster, counted: this.byHash(counted) };
    } finally {
      this.letGo(given);
    }
  }

  private letGo(images: ReadonlyMap<number, CachedImage>): void {
    for (const [n, image] of images) {
      this.heldBytes -= this.bytesOf(n, image.raster.rect);
      this.pool.images.release(image);
    }
  }

  /** Computes an image band by band over all threads. */
  private async inBands(
    node: number,
    rect: Rect,
    rows: number,
    given: ReadonlyMap<number, CachedImage>,
    counted: TallyMap,
    priority: number,
  ): Promise<SharedRaster> {
    const out = this.pool.images.take(rect, this.graph.nodes[node].planes);
    const figures = this.passedFor(node);
    const starts = Array.from({ length: Math.ceil(rect.height / rows) }, (_, i) => i * rows);
    const how = { ...this.options, priority };
    let next = 0;
    const worker = async (): Promise<void> => {
      while (next < starts.length) {
        this.options.signal?.throwIfAborted();
        const y = starts[next++];
        const band = { ...rect, y: rect.y + y, height: Math.min(rows, rect.height - y) };
        const task = {
          scene: this.scene,
          figures,
          node,
          rect: band,
          out: out.planes,
          outRect: rect,
          given: [...given].map(([n, image]) => [n, image.raster] as const),
        };
        const result = await this.pool.band(task, how);
        for (const [n, counts] of result.tallies) {
          for (const [what, pixels] of Object.entries(counts)) addTally(counted, n, what as TallyKind, pixels ?? 0);
        }
        for (const [n, ms] of result.times) this.times.set(n, (this.times.get(n) ?? 0) + ms);
        this.options.onStep(1 / starts.length);
      }
    };
    await Promise.all(Array.from({ length: this.pool.threads }, worker));
    return out;
  }

  private passedFor(node: number): SharedMeasurement[] {
    return measurementsRequiredBy(this.graph, node).map(({ key }) => {
      const figure = this.figures.get(key);
      if (!figure) throw new Error('a figure was not measured before it was needed');
      return shareMeasurement(key, figure);
    });
  }

  /** A node that is made for several images is counted once: as often as the one that made most of it saw. */
  private count(counted: TallyMap): void {
    for (const [node, counts] of counted) {
      for (const [what, pixels] of entriesOf(counts)) {
        const before = this.tallies.get(node)?.[what] ?? 0;
        if (pixels > before) addTally(this.tallies, node, what, pixels - before);
      }
    }
  }

  private byHash(counted: TallyMap): TallyByHash {
    return new Map([...counted].map(([node, counts]) => [this.graph.nodes[node].hash, counts]));
  }

  /** What was counted when an image was made that was kept. */
  private recount(counted: TallyByHash): void {
    if (counted.size === 0) return;
    this.count(
      new Map(
        this.graph.nodes.flatMap(({ node, hash }) => {
          const counts = counted.get(hash);
          return counts ? [[node, counts] as const] : [];
        }),
      ),
    );
  }

  /** The images from which the bands begin: those that are kept, and those that they must not make for themselves. */
  private async materialisedInputs(
    node: number,
    rect: Rect,
    rows: number,
    priority: number,
  ): Promise<Map<number, CachedImage>> {
    const given = new Map<number, CachedImage>();
    const take = (index: number, image: CachedImage): void => {
      given.set(index, image);
      this.heldBytes += this.bytesOf(index, image.raster.rect);
    };
    try {
      await this.keptBefore(node, priority, take);
      for (const [input, place] of inputsToMaterialise(
        this.graph,
        node,
        rect,
        rows,
        this.figures,
        new Set(given.keys()),
      ))
        take(input, await this.acquire(input, place, priority));
    } catch (error) {
      this.letGo(given);
      throw error;
    }
    return given;
  }

  /** Takes the kept images nearest before a node; nothing before them need be made. */
  private async keptBefore(
    node: number,
    priority: number,
    take: (index: number, image: CachedImage) => void,
  ): Promise<void> {
    const asked = new Set(this.graph.nodes[node].inputs);
    for (let index = node - 1; index >= 0; index--) {
      if (!asked.has(index)) continue;
      const { hash, extent, inputs, stack } = this.graph.nodes[index];
      const image = stack ? undefined : this.pool.images.holdCovering(hash, extent);
      if (image) {
        take(index, image);
        this.recount(image.counted);
      } else if (this.options.stored?.has(index)) take(index, await this.acquire(index, this.graph.frame, priority));
      else for (const input of inputs) asked.add(input);
    }
  }
}
