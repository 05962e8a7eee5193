import { UserError } from '../../core/errors';
import type { Figure, FigureSpec } from '../../core/engine/figures';
import type { Graph } from '../../core/engine/graph';
import { type PlannedFigure, figuresFor, nodesFor } from '../../core/engine/plan';
import type { Rect } from '../../core/raster/rect';
import type { Pool, TaskOptions } from './pool';
import { type SharedRaster, sharedRaster } from './shared';
import type { SourceSpec } from './sources';
import { loadPixels } from './stack';
import type { Scene } from './tasks';

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

/** Runs a graph at full size: measures what is missing, then computes in bands over all cores. */
export class Executor {
  readonly figures = new Map<string, Figure>();
  readonly tallies = new Map<number, number>();
  readonly times = new Map<number, number>();
  private done = 0;
  private total = 1;
  private readonly held = new Map<number, Promise<SharedRaster>>();
  private heldBytes = 0;
  /** Planes that no one reads any more. */
  private readonly spare: Float32Array[] = [];
  private readonly uses = new Map<number, number>();
  private scene: Scene;

  private readonly how: TaskOptions;

  constructor(
    private readonly pool: Pool,
    private readonly graph: Graph,
    scene: Scene,
    private readonly options: RunOptions = {},
  ) {
    this.scene = scene;
    this.how = { signal: options.signal, urgent: options.urgent };
  }

  /** Measures all figures that a node depends on, and those asked for besides. */
  async measure(node: number | undefined, also: readonly PlannedFigure[] = []): Promise<void> {
    const wanted = await this.missing([...(node === undefined ? [] : figuresFor(this.graph, node)), ...also]);
    this.total += wanted.reduce((sum, { spec }) => sum + spec.nodes.length + 1, 0);
    for (const { spec } of wanted) for (const n of spec.nodes) this.uses.set(n, (this.uses.get(n) ?? 0) + 1);
    const left = new Set(wanted);
    while (left.size > 0) {
      // What depends on no other missing figure can be measured side by side, as many as there are cores.
      const missing = new Set([...left].map(({ key }) => key));
      const ready = [...left].filter(({ spec, key }) => spec.nodes.every((n) => figuresFor(this.graph, n).every((f) => f.key === key || !missing.has(f.key))));
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
    const images = await Promise.all(spec.nodes.map((node) => this.image(node)));
    const planes = images[0].planes.length;
    let figure: Figure;
    if (planes === 1 || spec.kind === 'common') figure = await this.pool.measure({ spec, images }, this.how);
    else {
      // Plane by plane, so that a colour image keeps several cores busy.
      const parts = await Promise.all(
        Array.from({ length: planes }, (_, p) =>
          this.pool.measure({ spec, images: images.map(({ rect, planes: all }) => ({ rect, planes: [all[all.length === 3 ? p : 0]] })) }, this.how),
        ),
      );
      figure = joinPlanes(parts);
    }
    for (const node of spec.nodes) this.release(node);
    return figure;
  }

  /** An image on the whole frame, kept while another figure still wants it. */
  private image(node: number): Promise<SharedRaster> {
    const held = this.held.get(node);
    if (held) {
      this.step(1);
      return held;
    }
    const raster = this.whole(node, this.graph.frame, false);
    this.held.set(node, raster);
    this.heldBytes += this.bytesOf(node);
    return raster;
  }

  private release(node: number): void {
    const left = (this.uses.get(node) ?? 1) - 1;
    this.uses.set(node, left);
    const raster = this.held.get(node);
    if (left > 0 || !raster) return;
    this.held.delete(node);
    this.heldBytes -= this.bytesOf(node);
    // Shared memory goes back to the system only when every thread has forgotten it; using it again keeps the peak low.
    void raster.then(({ planes }) => this.spare.push(...planes));
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

  private bytesOf(node: number): number {
    return this.graph.frame.width * this.graph.frame.height * this.graph.nodes[node].planes * 4;
  }

  private async whole(node: number, rect: Rect, last: boolean): Promise<SharedRaster> {
    const { planes } = this.graph.nodes[node];
    const { memory } = this.options;
    const bytes = rect.width * rect.height * planes * 4 + this.heldBytes + this.bandPixels(node) * this.planesInFlight(node) * 4 * this.pool.threads;
    if (memory !== undefined && bytes > memory) {
      const needed = Math.ceil(bytes / 2 ** 20) + 1;
      throw new UserError('memory', `This picture needs at least ${needed} MB of memory and only ${Math.floor(memory / 2 ** 20)} MB are allowed; raise --memory or crop the picture.`);
    }
    const out = this.take(rect, planes);
    const scene = await this.sceneFor(node, rect);
    const figures = figuresFor(this.graph, node).map(({ key }) => [key, this.required(key)] as const);
    const rows = Math.max(1, Math.min(rect.height, Math.floor(this.bandPixels(node) / rect.width)));
    const starts = Array.from({ length: Math.ceil(rect.height / rows) }, (_, i) => i * rows);
    let next = 0;
    const worker = async (): Promise<void> => {
      while (next < starts.length) {
        this.options.signal?.throwIfAborted();
        const y = starts[next++];
        const result = await this.pool.band(
          { scene, figures, node, rect: { ...rect, y: rect.y + y, height: Math.min(rows, rect.height - y) }, out: out.planes, outRect: rect },
          this.how,
        );
        if (last) for (const [n, count] of result.tallies) this.tallies.set(n, (this.tallies.get(n) ?? 0) + count);
        for (const [n, ms] of result.times) this.times.set(n, (this.times.get(n) ?? 0) + ms);
        this.step(1 / starts.length);
      }
    };
    await Promise.all(Array.from({ length: this.pool.threads }, worker));
    return out;
  }

  /** Bands shrink where many images are in flight at once and memory is short. */
  private bandPixels(node: number): number {
    const { memory } = this.options;
    if (memory === undefined) return BAND_PIXELS;
    return Math.max(2 ** 14, Math.min(BAND_PIXELS, Math.floor(memory / 8 / this.pool.threads / this.planesInFlight(node) / 4)));
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

  /** Stacks that a band needs over the whole height (a quarter turn does) are held whole in shared memory. */
  private async sceneFor(node: number, rect: Rect): Promise<Scene> {
    const tall = new Set<string>();
    const visit = (index: number, window: Rect): void => {
      const here = this.graph.nodes[index];
      if (here.stack && window.height > rect.height / 2 && window.height > 256) tall.add(here.stack.name);
      here.inputs.forEach((input, i) => visit(input, here.kernel?.needs?.(window, 0, i) ?? window));
    };
    visit(node, { ...rect, height: Math.max(1, Math.floor(BAND_PIXELS / 4 / rect.width)) });
    const fresh = [...tall].filter((name) => this.scene.sources[name].kind !== 'memory');
    if (fresh.length === 0 || rect.height <= 512) return this.scene;
    const sources = { ...this.scene.sources };
    for (const name of fresh) sources[name] = await this.hold(name);
    this.scene = { ...this.scene, key: `${this.scene.key}+${fresh.join('+')}`, sources };
    return this.scene;
  }

  private async hold(name: string): Promise<SourceSpec> {
    const info = new Map(this.scene.stacks).get(name);
    if (!info) throw new Error(`stack ${name} is not in the scene`);
    const raster = await loadPixels(this.scene.sources[name], info);
    return { kind: 'memory', width: info.width, height: info.height, planes: raster.planes };
  }
}

function joinPlanes(parts: readonly Figure[]): Figure {
  const [first] = parts;
  if (first.kind === 'tone') return { kind: 'tone', planes: parts.flatMap((part) => (part.kind === 'tone' ? part.planes : [])) };
  if (first.kind === 'counts') return { kind: 'counts', planes: parts.flatMap((part) => (part.kind === 'counts' ? part.planes : [])) };
  if (first.kind === 'fit') return { ...first, planes: parts.flatMap((part) => (part.kind === 'fit' ? part.planes : [])) };
  return first;
}
