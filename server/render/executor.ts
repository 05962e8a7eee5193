import { addTally, type Tallies } from '../../core/engine/evaluate';
import { type Graph, nodesBefore } from '../../core/engine/graph';
import type { Counted } from '../../core/engine/kernel';
import {
  carriedFigure,
  figuresFor,
  figuresUnder,
  measuringWay,
  type PlannedFigure,
  type Way,
  wayTo,
} from '../../core/engine/plan';
import { UserError } from '../../core/errors';
import { FIGURE_KINDS, type Figure, type FigureSpec } from '../../core/figures/index';
import { joinPlanes } from '../../core/figures/planes';
import type { Rect } from '../../core/raster/rect';
import type { Pool, TaskOptions } from './pool';
import { Planes, type SharedRaster } from './shared';
import type { Scene } from './tasks';
import { wholesBefore } from './wholes';

/** Where figures are kept between runs. */
export interface FigureStore {
  get(key: string): Promise<Figure | undefined>;
  set(key: string, figure: Figure): Promise<void>;
}

export interface RunOptions {
  readonly signal?: AbortSignal;
  /** Share of the work done, 0 to 1. */
  readonly onProgress?: (share: number) => void;
  readonly store?: FigureStore;
  /** Bytes that planes and bands may take. */
  readonly memory?: number;
  /** What is on screen waits for this: it goes before other work. */
  readonly urgent?: boolean;
}

/** Pixels of a band: 2 MB a plane, small enough to stop at, large enough to be worth a task. */
const BAND_PIXELS = 2 ** 19;

/** A figure that is still to be come by, and the way to it. */
interface Errand extends PlannedFigure {
  readonly way: Way;
}

/** Runs a graph at full size: measures what is missing, then computes in bands over all cores. */
export class Executor {
  readonly figures = new Map<string, Figure>();
  readonly tallies: Tallies = new Map();
  readonly times = new Map<number, number>();
  private done = 0;
  private total = 1;
  private readonly planes = new Planes();
  private readonly held = new Map<string, Promise<SharedRaster>>();
  private heldBytes = 0;
  private readonly uses = new Map<string, number>();
  private readonly how: TaskOptions;

  constructor(
    private readonly pool: Pool,
    private readonly graph: Graph,
    private readonly scene: Scene,
    private readonly options: RunOptions = {},
  ) {
    this.how = { signal: options.signal, urgent: options.urgent };
  }

  /** Measures all figures that a node depends on, and those asked for besides. */
  async measure(node: number | undefined, also: readonly PlannedFigure[] = []): Promise<void> {
    const errands = await this.errandsFor([...(node === undefined ? [] : figuresFor(this.graph, node)), ...also]);
    for (const { way } of errands.values()) {
      if (way.by !== 'measuring') continue;
      this.total += way.images.length + 1;
      for (const image of way.images) this.uses.set(keyOfImage(image), (this.uses.get(keyOfImage(image)) ?? 0) + 1);
    }
    await this.runAll(errands);
  }

  /** What is neither known nor kept, with all that lies under it. */
  private async errandsFor(wanted: readonly PlannedFigure[]): Promise<Map<string, Errand>> {
    const errands = new Map<string, Errand>();
    const look = async ({ spec, key }: PlannedFigure): Promise<void> => {
      if (this.figures.has(key) || errands.has(key)) return;
      const kept = await this.options.store?.get(key);
      if (kept) {
        this.figures.set(key, kept);
        return;
      }
      const way = wayTo(this.graph, spec);
      errands.set(key, { spec, key, way });
      for (const under of figuresUnder(this.graph, way)) await look(under);
    };
    for (const item of wanted) await look(item);
    return errands;
  }

  /** Runs errands as soon as what they stand on is known, as many side by side as there are cores. */
  private async runAll(errands: ReadonlyMap<string, Errand>): Promise<void> {
    const left = new Set(errands.values());
    const running = new Set<Promise<void>>();
    const isReady = ({ way }: Errand) => figuresUnder(this.graph, way).every(({ key }) => this.figures.has(key));
    try {
      while (left.size > 0 || running.size > 0) {
        for (const errand of left) {
          if (running.size >= this.pool.threads) break;
          if (!isReady(errand)) continue;
          left.delete(errand);
          const work: Promise<void> = this.fulfil(errand).finally(() => running.delete(work));
          running.add(work);
        }
        if (running.size === 0) throw new Error('figures wait for each other');
        await Promise.race(running);
      }
    } finally {
      // One that has failed must not leave others at work behind it.
      await Promise.allSettled(running);
    }
  }

  private async fulfil({ spec, key, way }: Errand): Promise<void> {
    const carried = way.by === 'carrying' ? carriedFigure(this.graph, way, this.figures) : undefined;
    const figure = carried ?? (await this.measured(spec, way));
    this.figures.set(key, figure);
    await this.options.store?.set(key, figure);
    this.step(1);
  }

  private async measured(spec: FigureSpec, way: Way): Promise<Figure> {
    if (way.by === 'measuring') return this.measureOne(spec, way);
    // The lines did not allow to carry it over: now it is measured after all, with what that stands on.
    const plain = measuringWay(this.graph, spec);
    const under = await this.errandsFor(figuresUnder(this.graph, plain));
    await this.runAll(under);
    return this.measureOne(spec, plain);
  }

  private async measureOne(
    spec: FigureSpec,
    { images: looked, on: under }: Way & { by: 'measuring' },
  ): Promise<Figure> {
    const images = await Promise.all(looked.map((image) => this.image(image.node, image.rect)));
    const on = under.map(({ key }) => this.required(key));
    const planes = images[0]?.planes.length ?? 1;
    try {
      if (planes === 1 || FIGURE_KINDS[spec.kind].planes === 'together') {
        return await this.pool.measure({ spec, images, on }, this.how);
      }
      // Plane by plane, so that a colour image keeps several cores busy.
      const parts = Array.from({ length: planes }, (_, p) => {
        const own = images.map(({ rect, planes: all }) => ({ rect, planes: [all[all.length === 3 ? p : 0]] }));
        return this.pool.measure({ spec, images: own, on }, this.how);
      });
      return joinPlanes(await Promise.all(parts));
    } finally {
      for (const image of looked) this.release(image);
    }
  }

  /** The node's pixels in `rect`, whole in shared memory. */
  async render(node: number, rect: Rect): Promise<SharedRaster> {
    this.total += 1;
    const raster = await this.whole(node, rect);
    this.options.onProgress?.(1);
    return raster;
  }

  /** A whole image to be measured, kept while another figure still wants it. */
  private image(node: number, rect: Rect): Promise<SharedRaster> {
    const key = keyOfImage({ node, rect });
    const held = this.held.get(key);
    if (held) {
      this.step(1);
      return held;
    }
    const raster = this.whole(node, rect);
    this.held.set(key, raster);
    this.heldBytes += this.bytesOf(node, rect);
    return raster;
  }

  private release(image: { node: number; rect: Rect }): void {
    const key = keyOfImage(image);
    const left = (this.uses.get(key) ?? 1) - 1;
    this.uses.set(key, left);
    const raster = this.held.get(key);
    if (left > 0 || !raster) return;
    this.held.delete(key);
    this.heldBytes -= this.bytesOf(image.node, image.rect);
    raster.then(
      (made) => this.planes.give(made),
      // Whoever waited for it has been told.
      () => undefined,
    );
  }

  private bytesOf(node: number, rect: Rect): number {
    return rect.width * rect.height * this.graph.nodes[node].planes * 4;
  }

  private async whole(node: number, rect: Rect): Promise<SharedRaster> {
    const { planes } = this.graph.nodes[node];
    const { memory } = this.options;
    const inFlight = this.bandPixels(node) * this.planesInFlight(node) * 4 * this.pool.threads;
    const bytes = rect.width * rect.height * planes * 4 + this.heldBytes + inFlight;
    if (memory !== undefined && bytes > memory) {
      const needed = Math.ceil(bytes / 2 ** 20) + 1;
      throw new UserError(
        'memory',
        `This picture needs at least ${needed} MB of memory and only ${Math.floor(memory / 2 ** 20)} MB are allowed; raise --memory or crop the picture.`,
      );
    }
    const rows = Math.max(1, Math.min(rect.height, Math.floor(this.bandPixels(node) / rect.width)));
    const given = await this.givenFor(node, rect, rows);
    const out = this.planes.take(rect, planes);
    const figures = figuresFor(this.graph, node).map(({ key }) => [key, this.required(key)] as const);
    const starts = Array.from({ length: Math.ceil(rect.height / rows) }, (_, i) => i * rows);
    const counted: Tallies = new Map();
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
          given: [...given],
        };
        const result = await this.pool.band(task, this.how);
        for (const [n, counts] of result.tallies) {
          for (const [what, pixels] of Object.entries(counts)) addTally(counted, n, what as Counted, pixels ?? 0);
        }
        for (const [n, ms] of result.times) this.times.set(n, (this.times.get(n) ?? 0) + ms);
        this.step(1 / starts.length);
      }
    };
    await Promise.all(Array.from({ length: this.pool.threads }, worker));
    this.count(counted);
    for (const [n, raster] of given) {
      this.heldBytes -= this.bytesOf(n, raster.rect);
      this.planes.give(raster);
    }
    return out;
  }

  /** A node that is made for several images is counted once: as often as the one that made most of it saw. */
  private count(counted: Tallies): void {
    for (const [node, counts] of counted) {
      for (const [what, pixels] of Object.entries(counts) as [Counted, number][]) {
        const before = this.tallies.get(node)?.[what] ?? 0;
        if (pixels > before) addTally(this.tallies, node, what, pixels - before);
      }
    }
  }

  /** Makes whole, before the bands, the images that they must not make for themselves. */
  private async givenFor(node: number, rect: Rect, rows: number): Promise<Map<number, SharedRaster>> {
    const given = new Map<number, SharedRaster>();
    for (const [input, place] of wholesBefore(this.graph, node, rect, rows, this.figures)) {
      given.set(input, await this.whole(input, place));
      this.heldBytes += this.bytesOf(input, place);
    }
    return given;
  }

  /** Bands shrink where many images are in flight at once and memory is short. */
  private bandPixels(node: number): number {
    const { memory } = this.options;
    if (memory === undefined) return BAND_PIXELS;
    const share = Math.floor(memory / 8 / this.pool.threads / this.planesInFlight(node) / 4);
    return Math.max(2 ** 14, Math.min(BAND_PIXELS, share));
  }

  /** Planes that a band has in memory at once: a window of each stack, and what is made of them. */
  private planesInFlight(node: number): number {
    const stacks = nodesBefore(this.graph.nodes, node).map((n) => this.graph.nodes[n].stack?.planes.length ?? 0);
    return stacks.reduce((sum, n) => sum + n, 0) + 6;
  }

  private required(key: string): Figure {
    const figure = this.figures.get(key);
    if (!figure) throw new Error('a figure was not measured before it was needed');
    return figure;
  }

  private step(share: number): void {
    this.done += share;
    this.options.onProgress?.(Math.min(0.99, this.done / this.total));
  }
}

const keyOfImage = ({ node, rect }: { node: number; rect: Rect }): string =>
  `${node} ${rect.x} ${rect.y} ${rect.width} ${rect.height}`;
