import { buildGraph } from '@owl-loom/engine/build/graph-builder';
import { Evaluator, type SourceReader } from '@owl-loom/engine/evaluator';
import { type Graph, frameImageId, type StackInfo } from '@owl-loom/engine/graph';
import { MeasurementEstimator, levelForPixelCount } from '@owl-loom/engine/estimator';
import { type Unfinished, unfinishedBy } from '@owl-loom/engine/measurements/failures';
import { measurementsRequiredBy, type KeyedMeasurement } from '@owl-loom/engine/measurement-plan';
import type { RoiPlan } from '@owl-loom/engine/roi';
import { MEASUREMENT_KINDS, type Measurement } from '@owl-loom/engine/measurements/index';
import { levelSize } from '@owl-loom/image/pyramid/pyramid';
import { newRaster, type Raster } from '@owl-loom/image/raster/raster';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { Recipe } from '@owl-loom/recipe/schema';
import { SharedWorkerState } from './shared-worker-state';
import { FrontierCache, reuseFrontier } from './reuse-frontier';
import { KnownFigures } from './known-measurements';
import type { WorkerStack } from './protocol';

/** Pixels of the level from which measurements are estimated. */
const GUESS_PIXELS = 34_000;

/** A recipe's graph over tiles, with the measurements known so far and the estimates that stand in for the rest. */
export class RecipeEvaluator {
  private readonly common: SharedWorkerState;
  readonly known: KnownFigures;
  private readonly made = new FrontierCache();
  private cut: ReadonlySet<number> = new Set();
  private hashes: ReadonlySet<string> = new Set();
  private stacks = new Map<string, StackInfo>();
  private current: Graph | undefined;
  private fetchedFor: Graph | undefined;
  private fetching: Promise<unknown> = Promise.resolve();

  /** Names of the graph's pictures, as far as they were asked for. */
  private readonly pictures = new Map<number, string>();

  /** @param beside a weaver of another recipe, whose pixels, measurements and proofs are this one's too */
  constructor(beside?: RecipeEvaluator) {
    this.common = beside?.common ?? new SharedWorkerState();
    this.known = new KnownFigures(this.common);
  }

  get graph(): Graph {
    if (!this.current) throw new Error('no recipe is open');
    return this.current;
  }

  set(recipe: Recipe, stacks: readonly WorkerStack[]): Graph {
    this.stacks = new Map(stacks.map(({ name, info }) => [name, info]));
    const graph = buildGraph(recipe, this.stacks);
    const hashes = new Set(graph.nodes.map((node) => node.hash));
    // What has not changed at all leaves the cut where the last change has put it.
    if (!this.current || graph.nodes.some((node) => !this.hashes.has(node.hash)))
      this.cut = reuseFrontier(graph, this.hashes);
    else this.cut = this.carriedCut(graph);
    this.hashes = hashes;
    this.current = graph;
    this.pictures.clear();
    this.known.open(graph);
    return graph;
  }

  private carriedCut(graph: Graph): ReadonlySet<number> {
    const names = new Set([...this.cut].map((index) => this.graph.nodes[index].hash));
    return new Set(graph.nodes.filter((node) => names.has(node.hash)).map((node) => node.node));
  }

  /** The open recipe's images that cannot be finished; none before a recipe is open. */
  get unfinished(): Unfinished {
    return this.current ? unfinishedBy(this.current, this.common.failed) : { failures: [], paths: [] };
  }

  /** Sees that every measurement of a node is known or estimated; gives the keys of the estimated ones. */
  settle(node: number): Promise<Set<string>> {
    return this.guesser.resolveMeasurements(node);
  }

  /** A measurement, estimated where it is not known yet; its key then joins `estimated`. */
  figure(item: KeyedMeasurement, guessed: Set<string>): Promise<Measurement> {
    return this.guesser.figure(item, guessed);
  }

  private get guesser(): MeasurementEstimator {
    return new MeasurementEstimator(
      {
        graph: this.graph,
        pixelsFor: (kind) => MEASUREMENT_KINDS[kind].estimatePixels ?? GUESS_PIXELS,
        exact: this.known.truth,
        onExact: (key, figure) => this.common.figures.set(key, figure),
        placeholder: (item) => this.known.standIn(item),
        image: async (node, rect, level) => {
          await this.fetchedAt(levelForPixelCount(this.graph, GUESS_PIXELS));
          return this.compute(node, rect, level);
        },
      },
      this.known.guesses,
    );
  }

  /** Planes of stacks that the recipe reads. */
  private get read(): { info: StackInfo; plane: number }[] {
    return this.graph.nodes.flatMap(({ stack }) => {
      const info = stack && this.stacks.get(stack.name);
      return info ? stack.planes.map((plane) => ({ info, plane })) : [];
    });
  }

  /** Fetches a small level of all stacks that the recipe reads at once: guess after guess would ask for them one by one. */
  private fetchedAt(level: number): Promise<unknown> {
    if (this.fetchedFor !== this.graph) {
      this.fetchedFor = this.graph;
      const windows = this.read.map(({ info, plane }) => {
        const rect = { x: 0, y: 0, width: levelSize(info.width, level), height: levelSize(info.height, level) };
        return this.common.tiles.window(info, plane, level, rect);
      });
      this.fetching = Promise.all(windows);
    }
    return this.fetching;
  }

  /** A window will be asked for as soon as its measurements are settled: what it reads is fetched meanwhile, moves apart. */
  prefetchTiles(rect: Rect, level: number): void {
    for (const { info, plane } of this.read) this.common.tiles.ahead(info, plane, level, rect);
  }

  /** Name of an image at the cut: its hash, the level, and the very measurements that it is made with. */
  private nameOf(index: number, level: number, figures: ReadonlyMap<string, Measurement>): string {
    const used = measurementsRequiredBy(this.graph, index).map(({ key }) => {
      const figure = figures.get(key);
      return figure ? this.common.serialOf(figure) : '-';
    });
    // What was made before an image under it was proven is another image.
    return `${this.graph.nodes[index].hash} ${level} ${this.common.proofs.size} ${used.join(' ')}`;
  }

  /** From now on an image's pixels come from the server's own, wherever it is read. */
  prove(name: string): void {
    this.common.proofs.add(name);
  }

  isProven(node: number): boolean {
    return this.common.proofs.size > 0 && this.common.proofs.has(this.pictureOf(node));
  }

  private pictureOf(node: number): string {
    const known = this.pictures.get(node) ?? frameImageId(this.graph, node);
    this.pictures.set(node, known);
    return known;
  }

  /** {@link SharedWorkerState.proven} of an image. */
  private proven(node: number, rect: Rect, level: number): Promise<Raster | undefined> {
    const { planes, domain } = this.graph.nodes[node];
    const { width, height } = this.graph.frame;
    const shown = domain === 'linear' ? domain : 'stretched';
    return this.common.proven({ id: this.pictureOf(node), width, height, planes, domain: shown }, rect, level);
  }

  /** The proven images nearest before a node that its window reads: nothing before them need be made. */
  private async proofInputs(
    node: number,
    rect: Rect,
    level: number,
    figures: ReadonlyMap<string, Measurement>,
  ): Promise<Map<number, Raster>> {
    const found = new Map<number, Raster>();
    if (this.common.proofs.size === 0) return found;
    const windowsNow = () => new Evaluator(this.graph, figures, level, undefined, found).plan(node, rect).windows;
    let windows = windowsNow();
    for (const index of [...windows.keys()].reverse()) {
      const window = windows.get(index);
      if (index === node || !window || !this.isProven(index)) continue;
      const image = await this.proven(index, window, level);
      if (!image) continue;
      found.set(index, image);
      windows = windowsNow();
    }
    return found;
  }

  /**
   * The pixels of a window of a level, once the node's measurements are settled.
   * @param asProven whether the node's own proof may stand for it
   */
  async compute(node: number, rect: Rect, level: number, asProven = false): Promise<Raster> {
    const proof = asProven && this.isProven(node) ? await this.proven(node, rect, level) : undefined;
    if (proof) return proof;
    const figures = this.known.all();
    const given = await this.proofInputs(node, rect, level, figures);
    const { windows } = new Evaluator(this.graph, figures, level, undefined, given).plan(node, rect);
    const names = new Map<number, string>();
    for (const index of this.cut) {
      const window = windows.get(index);
      if (!window || index === node || given.has(index)) continue;
      const name = this.nameOf(index, level, figures);
      const kept = this.made.get(name, window);
      if (kept) given.set(index, kept);
      else names.set(index, name);
    }
    const evaluator = new Evaluator(this.graph, figures, level, undefined, given);
    const plan = evaluator.plan(node, rect);
    const { raster, kept } = evaluator.run(plan, await this.fetched(plan, level), new Set(names.keys()));
    for (const [index, image] of kept) this.made.put(names.get(index) ?? '', image);
    return raster;
  }

  /**
   * The pixels of a window as they would be if an image on the way were even: made from the stacks, whatever is kept.
   * @param even value of each plane of that image
   */
  async computeWithConstant(
    node: number,
    rect: Rect,
    level: number,
    without: number,
    even: readonly number[],
  ): Promise<Raster> {
    const figures = this.known.all();
    const window = new Evaluator(this.graph, figures, level).plan(node, rect).windows.get(without);
    const given = new Map<number, Raster>();
    if (window) {
      const flat = newRaster(window, this.graph.nodes[without].planes);
      flat.planes.forEach((plane, p) => plane.fill(even[Math.min(p, even.length - 1)]));
      given.set(without, flat);
    }
    const evaluator = new Evaluator(this.graph, figures, level, undefined, given);
    const plan = evaluator.plan(node, rect);
    return evaluator.run(plan, await this.fetched(plan, level)).raster;
  }

  /** The windows of stacks that a plan needs. */
  private async fetched({ sources }: RoiPlan, level: number): Promise<SourceReader> {
    const fetched = new Map<string, { rect: Rect; pixels: Float32Array }>();
    await Promise.all(
      sources.map(async (need) => {
        const stack = this.stacks.get(need.stack);
        if (!stack) throw new Error(`the stack ${need.stack} is not there`);
        const pixels = await this.common.tiles.window(stack, need.plane, level, need.rect);
        fetched.set(`${need.plane} ${need.stack}`, { rect: need.rect, pixels });
      }),
    );
    return (stack, plane) => {
      const window = fetched.get(`${plane} ${stack}`);
      if (!window) throw new Error('a window was not fetched');
      return window;
    };
  }
}
