import { UserError } from '../../core/errors';
import type { Figure, FigureSpec } from '../../core/engine/figures';
import type { Graph } from '../../core/engine/graph';
import { addTally, type Tallies, windowNeeded } from '../../core/engine/evaluate';
import { type PlannedFigure, figuresFor, measuredRect, nodesFor } from '../../core/engine/plan';
import { type Rect, intersect, isEmpty, union } from '../../core/raster/rect';
import type { Pool, TaskOptions } from './pool';
import type { Counted } from '../../core/steps/kind';
import { type SharedRaster, sharedRaster } from './shared';
import type { Scene } from './tasks';

/** Figures that are measured of all planes at once. */
const TOGETHER: ReadonlySet<FigureSpec['kind']> = new Set(['stars', 'common', 'align', 'gradient', 'white']);

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

/** Rows that a step may need beyond a band's own before its input is made whole first: more would be made anew for every band. */
const TALL = 48;

/** Pixels of a band: 2 MB a plane, small enough to stop at, large enough to be worth a task. */
const BAND_PIXELS = 2 ** 19;

/** Runs a graph at full size: measures what is missing, then computes in bands over all cores. */
export class Executor {
  readonly figures = new Map<string, Figure>();
  readonly tallies: Tallies = new Map();
  readonly times = new Map<number, number>();
  private done = 0;
  private total = 1;
  private readonly held = new Map<string, Promise<SharedRaster>>();
  private heldBytes = 0;
  /** Planes that no one reads any more. */
  private readonly spare: Float32Array[] = [];
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
    const wanted = await this.missing([...(node === undefined ? [] : figuresFor(this.graph, node)), ...also]);
    this.total += wanted.reduce((sum, { spec }) => sum + spec.nodes.length + 1, 0);
    for (const { spec } of wanted) {
      for (const i of spec.nodes.keys()) {
        const key = this.imageKey(spec, i);
        this.uses.set(key, (this.uses.get(key) ?? 0) + 1);
      }
    }
    const left = new Set(wanted);
    while (left.size > 0) {
      // What depends on no other missing figure can be measured side by side, as many as there are cores.
      const missing = new Set([...left].map(({ key }) => key));
      const ready = [...left].filter(({ spec, key }) =>
        spec.nodes.every((n) => figuresFor(this.graph, n).every((f) => f.key === key || !missing.has(f.key))),
      );
      const wave = ready.slice(0, this.pool.threads);
      await Promise.all(wave.map((item) => this.measureAndKeep(item)));
      for (const item of wave) left.delete(item);
    }
  }

  private async measureAndKeep({ spec, key }: PlannedFigure): Promise<void> {
    const figure = await this.measureOne(spec);
    this.figures.set(key, figure);
    await this.options.store?.set(key, figure);
    this.step(1);
  }

  /** The node's pixels in `rect`, whole in shared memory. */
  async render(node: number, rect: Rect): Promise<SharedRaster> {
    this.total += 1;
    const raster = await this.whole(node, rect, true);
    this.options.onProgress?.(1);
    return raster;
  }

  private async missing(planned: readonly PlannedFigure[]): Promise<PlannedFigure[]> {
    const wanted = new Map<string, PlannedFigure>();
    for (const item of planned) {
      if (this.figures.has(item.key) || wanted.has(item.key)) continue;
      const kept = await this.options.store?.get(item.key);
      if (kept) this.figures.set(item.key, kept);
      else wanted.set(item.key, item);
    }
    return [...wanted.values()];
  }

  private async measureOne(spec: FigureSpec): Promise<Figure> {
    const images = await Promise.all(spec.nodes.map((_, i) => this.image(spec, i)));
    const planes = images[0].planes.length;
    let figure: Figure;
    if (planes === 1 || TOGETHER.has(spec.kind)) figure = await this.pool.measure({ spec, images }, this.how);
    else {
      // Plane by plane, so that a colour image keeps several cores busy.
      const parts = await Promise.all(
        Array.from({ length: planes }, (_, p) =>
          this.pool.measure(
            {
              spec,
              images: images.map(({ rect, planes: all }) => ({ rect, planes: [all[all.length === 3 ? p : 0]] })),
            },
            this.how,
          ),
        ),
      );
      figure = joinPlanes(parts);
    }
    for (const i of spec.nodes.keys()) this.release(spec, i);
    return figure;
  }

  private imageKey(spec: FigureSpec, i: number): string {
    const { x, y, width, height } = measuredRect(this.graph, spec, i);
    return `${spec.nodes[i]} ${x} ${y} ${width} ${height}`;
  }

  /** A whole image to be measured, kept while another figure still wants it. */
  private image(spec: FigureSpec, i: number): Promise<SharedRaster> {
    const key = this.imageKey(spec, i);
    const held = this.held.get(key);
    if (held) {
      this.step(1);
      return held;
    }
    const rect = measuredRect(this.graph, spec, i);
    const raster = this.whole(spec.nodes[i], rect, false);
    this.held.set(key, raster);
    this.heldBytes += this.bytesOf(spec.nodes[i], rect);
    return raster;
  }

  private release(spec: FigureSpec, i: number): void {
    const key = this.imageKey(spec, i);
    const left = (this.uses.get(key) ?? 1) - 1;
    this.uses.set(key, left);
    const raster = this.held.get(key);
    if (left > 0 || !raster) return;
    this.held.delete(key);
    this.heldBytes -= this.bytesOf(spec.nodes[i], measuredRect(this.graph, spec, i));
    void raster.then((made) => this.spend(made));
  }

  /** Shared memory goes back to the system only when every thread has forgotten it; using it again keeps the peak low. */
  private spend({ planes }: SharedRaster): void {
    this.spare.push(...planes);
  }

  /** Planes for a rectangle, of memory that an earlier image has left where there is any of the size. */
  private take(rect: Rect, planes: 1 | 3): SharedRaster {
    const size = rect.width * rect.height;
    const reused: Float32Array[] = [];
    while (reused.length < planes) {
      const at = this.spare.findIndex((plane) => plane.length === size);
      if (at < 0) break;
      reused.push(...this.spare.splice(at, 1));
    }
    return { rect, planes: Array.from({ length: planes }, (_, p) => reused[p] ?? sharedRaster(rect, 1).planes[0]) };
  }

  private bytesOf(node: number, rect: Rect): number {
    return rect.width * rect.height * this.graph.nodes[node].planes * 4;
  }

  private async whole(node: number, rect: Rect, last: boolean): Promise<SharedRaster> {
    const { planes } = this.graph.nodes[node];
    const { memory } = this.options;
    const bytes =
      rect.width * rect.height * planes * 4 +
      this.heldBytes +
      this.bandPixels(node) * this.planesInFlight(node) * 4 * this.pool.threads;
    if (memory !== undefined && bytes > memory) {
      const needed = Math.ceil(bytes / 2 ** 20) + 1;
      throw new UserError(
        'memory',
        `This picture needs at least ${needed} MB of memory and only ${Math.floor(memory / 2 ** 20)} MB are allowed; raise --memory or crop the picture.`,
      );
    }
    const rows = Math.max(1, Math.min(rect.height, Math.floor(this.bandPixels(node) / rect.width)));
    const given = await this.givenFor(node, rect, rows, last);
    const out = this.take(rect, planes);
    const figures = figuresFor(this.graph, node).map(({ key }) => [key, this.required(key)] as const);
    const starts = Array.from({ length: Math.ceil(rect.height / rows) }, (_, i) => i * rows);
    let next = 0;
    const worker = async (): Promise<void> => {
      while (next < starts.length) {
        this.options.signal?.throwIfAborted();
        const y = starts[next++];
        const result = await this.pool.band(
          {
            scene: this.scene,
            figures,
            node,
            rect: { ...rect, y: rect.y + y, height: Math.min(rows, rect.height - y) },
            out: out.planes,
            outRect: rect,
            given: [...given],
          },
          this.how,
        );
        if (last)
          for (const [n, counts] of result.tallies)
            for (const [what, pixels] of Object.entries(counts)) addTally(this.tallies, n, what as Counted, pixels);
        for (const [n, ms] of result.times) this.times.set(n, (this.times.get(n) ?? 0) + ms);
        this.step(1 / starts.length);
      }
    };
    await Promise.all(Array.from({ length: this.pool.threads }, worker));
    for (const [n, raster] of given) {
      this.heldBytes -= this.bytesOf(n, raster.rect);
      this.spend(raster);
    }
    return out;
  }

  /**
   * Makes whole, before the bands, the images of which a band would need many more rows than its own: those behind wide kernels and turns.
   * @param rows of a band
   */
  private async givenFor(node: number, rect: Rect, rows: number, last: boolean): Promise<Map<number, SharedRaster>> {
    const wanted = new Map<number, Rect>();
    const seen = new Set<string>();
    const visit = (index: number, band: Rect, whole: Rect): void => {
      const mark = `${index} ${band.y} ${band.height} ${whole.y} ${whole.height}`;
      if (seen.has(mark)) return;
      seen.add(mark);
      const here = this.graph.nodes[index];
      here.inputs.forEach((input, i) => {
        const inner = windowNeeded(here, band, 0, i, this.figures);
        const all = windowNeeded(here, whole, 0, i, this.figures);
        const { extent } = this.graph.nodes[input];
        if (inner.height > rows + TALL && extent.height > inner.height / 2) {
          const part = intersect(all, extent);
          const before = wanted.get(input);
          if (!isEmpty(part)) wanted.set(input, before ? union(before, part) : part);
        } else visit(input, inner, all);
      });
    };
    visit(node, { ...rect, height: Math.min(rows, rect.height) }, rect);
    const given = new Map<number, SharedRaster>();
    for (const [input, place] of wanted) {
      given.set(input, await this.whole(input, place, last));
      this.heldBytes += this.bytesOf(input, place);
    }
    return given;
  }

  /** Bands shrink where many images are in flight at once and memory is short. */
  private bandPixels(node: number): number {
    const { memory } = this.options;
    if (memory === undefined) return BAND_PIXELS;
    return Math.max(
      2 ** 14,
      Math.min(BAND_PIXELS, Math.floor(memory / 8 / this.pool.threads / this.planesInFlight(node) / 4)),
    );
  }

  /** Planes that a band has in memory at once: a window of each stack, and what is made of them. */
  private planesInFlight(node: number): number {
    return nodesFor(this.graph, node).reduce((sum, n) => sum + (this.graph.nodes[n].stack?.planes.length ?? 0), 0) + 6;
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

/** One figure of the parts that were measured plane by plane. */
function joinPlanes(parts: readonly Figure[]): Figure {
  const [first] = parts;
  if (!('planes' in first)) return first;
  // The parts are all of one kind, so are their planes.
  return {
    ...first,
    planes: parts.flatMap((part): readonly unknown[] => ('planes' in part ? part.planes : [])),
  } as Figure;
}
