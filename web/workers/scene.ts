import { buildGraph } from '../../core/engine/build';
import { Evaluator } from '../../core/engine/evaluate';
import type { Figure, FigureSpec, StarList } from '../../core/engine/figures';
import type { Graph, StackInfo } from '../../core/engine/graph';
import { measureFigure } from '../../core/engine/measure';
import { figuresFor, keyIn, measuredOf, measuredRect, wantedSpec } from '../../core/engine/plan';
import { levelCount, levelRect } from '../../core/raster/levels';
import type { Raster } from '../../core/raster/raster';
import type { Rect } from '../../core/raster/rect';
import type { Recipe } from '../../core/recipe/schema';
import { quietPlace } from '../../core/stats/quiet';
import { type Counts, type PlaneSummary, summarise } from '../../core/stats/summary';
import { bitmapOf, type Brightness, PLAIN, brightness, changeBrightness } from './paint';
import type { DescribeReply, Display, DrawReply, RegionReply, SceneReply, WorkerStack } from './protocol';
import { StrandCache } from './strand-cache';
import { strandEnds, strandWindows } from './strand-windows';
import { cutTo, levelWithin, stillOf, takeOff } from './stand-ins';
import { Tiles } from './tiles';

/** Figures that have charts or marks on the picture. */
const CHARTED: ReadonlySet<FigureSpec['kind']> = new Set(['fit', 'continuum', 'gradient']);

/** Pixels of the level from which figures are guessed. */
const GUESS_PIXELS = 34_000;

/** Pixels of a region up to which its statistics come from full size. */
const REGION_PIXELS = 1_500_000;
/** Pixels of the level on which the quiet place is sought. */
const QUIET_PIXELS = 160_000;

/** The open recipe in the worker: its graph, the figures known so far, and the guesses that stand in for the rest. */
export class WorkerScene {
  private readonly tiles = new Tiles();
  private readonly figures = new Map<string, Figure>();
  private guesses = new Map<string, Figure>();
  /** Places of figures in the recipe by key, and the last true figure of each place. */
  private readonly slots = new Map<string, string>();
  private readonly lately = new Map<string, Figure>();
  /** Hashes of images whose proof is ready. */
  private readonly proofs = new Set<string>();
  private readonly made = new StrandCache();
  private ends: ReadonlySet<number> = new Set();
  private graph: Graph | undefined;
  /** The recipe's own rectangle of the cloth. */
  private wanted: Rect | undefined;
  private stacks = new Map<string, StackInfo>();

  set(recipe: Recipe, stacks: readonly WorkerStack[]): SceneReply {
    this.stacks = new Map(stacks.map(({ name, info }) => [name, info]));
    this.graph = buildGraph(recipe, this.stacks);
    this.wanted = typeof recipe.cloth?.extent === 'object' ? recipe.cloth.extent : undefined;
    this.ends = strandEnds(this.graph);
    this.takeSlots();
    // Guesses of states long gone would pile up while a slider moves.
    if (this.guesses.size > 400) {
      this.guesses = new Map();
      this.made.clear();
    }
    const { nodes, byPath, frame, warnings, faults } = this.graph;
    const paths = Object.fromEntries(
      [...byPath].map(([path, n]) => [path, { planes: nodes[n].planes, domain: nodes[n].domain, hash: nodes[n].hash }]),
    );
    return { frame, paths, warnings, faults };
  }

  learn(figures: Readonly<Record<string, Figure>>): void {
    // What was made with guesses is not what it will be.
    this.made.clear();
    for (const [key, figure] of Object.entries(figures)) {
      this.figures.set(key, figure);
      const slot = this.slots.get(key);
      if (slot) this.lately.set(slot, figure);
    }
  }

  /** Remembers where in the recipe each figure stands, so that the same place finds its last true figure again. */
  private takeSlots(): void {
    this.slots.clear();
    for (const node of this.ready().nodes) {
      node.figureKeys.forEach((key, i) => {
        const slot = `${node.path} ${node.kind} ${i}`;
        this.slots.set(key, slot);
        const figure = this.figures.get(key);
        if (figure) this.lately.set(slot, figure);
      });
    }
  }

  async draw(path: string, rect: Rect, level: number, display: Display): Promise<DrawReply> {
    const start = performance.now();
    const graph = this.ready();
    const node = this.nodeOf(path);
    const guessed = await this.settle(node);
    const less = display.less === undefined ? undefined : graph.byPath.get(display.less);
    if (less !== undefined) for (const key of await this.settle(less)) guessed.add(key);
    const how = await this.brightnessFor(graph, node, display, guessed);
    const proof = less === undefined && this.proofs.has(graph.nodes[node].hash);
    const raster = proof ? await this.proven(graph, node, rect, level) : await this.compute(node, rect, level);
    const extent = path === 'cloth' ? await this.extent(graph, guessed) : undefined;
    if (extent) cutTo(raster, levelRect(extent, level));
    if (less !== undefined) takeOff(raster, await this.compute(less, rect, level));
    const bitmap = await bitmapOf(
      raster,
      less === undefined ? how : changeBrightness(raster),
      display.clipping === true,
    );
    const against = display.other === undefined ? undefined : graph.byPath.get(display.other);
    const other =
      against === undefined ? null : await this.other(graph, node, against, rect, level, display, how, guessed);
    return { bitmap, other, rect, level, guessed: [...guessed], proof, milliseconds: performance.now() - start };
  }

  /** The image to be held against the shown one: under the same brightness, where both are linear or neither is. */
  private async other(
    graph: Graph,
    node: number,
    against: number,
    rect: Rect,
    level: number,
    display: Display,
    how: Brightness,
    guessed: Set<string>,
  ): Promise<ImageBitmap> {
    for (const key of await this.settle(against)) guessed.add(key);
    const alike = graph.nodes[against].domain === graph.nodes[node].domain;
    const own = alike ? how : await this.brightnessFor(graph, against, display, guessed);
    return bitmapOf(await this.compute(against, rect, level), own, display.clipping === true);
  }

  /** Statistics of a rectangle in each of the paths that can be made. */
  async region(rect: Rect, paths: readonly string[]): Promise<RegionReply> {
    const graph = this.ready();
    const level = levelWithin(rect, REGION_PIXELS);
    const window = levelRect(rect, level);
    const planes: Record<string, PlaneSummary[]> = {};
    for (const path of paths) {
      const node = graph.byPath.get(path);
      if (node === undefined) continue;
      await this.settle(node);
      const raster = await this.compute(node, window, level);
      planes[path] = raster.planes.map((plane) => summarise(plane, window.width, window.height));
    }
    return { planes, level };
  }

  /** The darkest even place of the images at these paths, in full-size pixels; null where there is none. */
  async quiet(paths: readonly string[]): Promise<Rect | null> {
    const graph = this.ready();
    const level = this.levelFor(QUIET_PIXELS);
    const window = levelRect(graph.frame, level);
    const planes: Float32Array[] = [];
    for (const path of paths) {
      const node = graph.byPath.get(path);
      if (node === undefined || graph.nodes[node].domain === 'stretched') continue;
      await this.settle(node);
      planes.push(...(await this.compute(node, window, level)).planes);
    }
    const found = planes.length > 0 ? quietPlace(planes, window.width, window.height) : undefined;
    const n = 2 ** level;
    return found ? { x: found.x * n, y: found.y * n, width: found.width * n, height: found.height * n } : null;
  }

  /** From now on an image's pixels come from its proof. */
  prove(hash: string): void {
    this.proofs.add(hash);
  }

  private async proven(graph: Graph, node: number, rect: Rect, level: number): Promise<Raster> {
    const { planes, hash } = graph.nodes[node];
    const { width, height } = graph.frame;
    const pyramid: StackInfo = { id: hash, width, height, planes, domain: 'stretched' };
    return {
      rect,
      planes: await Promise.all(Array.from({ length: planes }, (_, p) => this.tiles.window(pyramid, p, level, rect))),
    };
  }

  /** Values of one full-size pixel in each of the paths that can be made. */
  async probe(x: number, y: number, paths: readonly string[]): Promise<Record<string, number[]>> {
    const graph = this.ready();
    const found: Record<string, number[]> = {};
    for (const path of paths) {
      const node = graph.byPath.get(path);
      if (node === undefined) continue;
      await this.settle(node);
      const raster = await this.compute(node, { x, y, width: 1, height: 1 }, 0);
      found[path] = raster.planes.map((plane) => plane[0]);
    }
    return found;
  }

  /** The histogram of each plane, true where it has been measured at full size, else guessed. */
  async histogram(path: string): Promise<readonly Counts[]> {
    await this.settle(this.nodeOf(path));
    const graph = this.ready();
    const spec = wantedSpec(graph, { figure: 'counts', path });
    const figure = spec && (await this.figure(keyIn(graph, spec), spec, new Set()));
    return figure?.kind === 'counts' ? figure.planes : [];
  }

  describe(): DescribeReply {
    const graph = this.ready();
    const known = new Map([...this.guesses, ...this.figures]);
    const charts: Record<string, Figure> = {};
    const tones: Record<string, Figure> = {};
    const stars: Record<string, StarList> = {};
    for (const node of graph.nodes) {
      node.figures.forEach((spec, i) => {
        const figure = known.get(node.figureKeys[i]);
        if (CHARTED.has(spec.kind) && figure) charts[node.path] = figure;
      });
    }
    for (const [path, n] of graph.byPath) {
      const byStars =
        graph.nodes[n].kind === 'continuum' && charts[path] === undefined
          ? wantedSpec(graph, { figure: 'continuum', path })
          : undefined;
      const chart = byStars && known.get(keyIn(graph, byStars));
      if (chart) charts[path] = chart;
      const figure = known.get(keyIn(graph, { kind: 'tone', nodes: [n] }));
      if (figure) tones[path] = figure;
      const list = this.figures.get(keyIn(graph, { kind: 'stars', nodes: [n] }));
      if (list?.kind === 'stars') stars[path] = list;
    }
    return {
      measured: measuredOf(
        graph,
        graph.nodes.map((_, i) => i),
        known,
      ),
      charts,
      tones,
      stars,
    };
  }

  private ready(): Graph {
    if (!this.graph) throw new Error('no recipe is open');
    return this.graph;
  }

  private nodeOf(path: string): number {
    const node = this.ready().byPath.get(path);
    if (node === undefined) throw new Error('This part of the recipe cannot be shown until its fault is mended.');
    return node;
  }

  private async brightnessFor(graph: Graph, node: number, display: Display, guessed: Set<string>) {
    if (display.mode === 'true' || graph.nodes[node].domain !== 'linear') return PLAIN;
    const anchor = (display.anchor !== undefined ? graph.byPath.get(display.anchor) : undefined) ?? node;
    for (const key of await this.settle(anchor)) guessed.add(key);
    const spec: FigureSpec = { kind: 'tone', nodes: [anchor] };
    const key = keyIn(graph, spec);
    const figure = await this.figure(key, spec, guessed);
    return figure.kind === 'tone' ? brightness(figure.planes) : PLAIN;
  }

  /** The part of the frame that the finished cloth shows; undefined where that is all of it. */
  private async extent(graph: Graph, guessed: Set<string>): Promise<Rect | undefined> {
    if (this.wanted) return this.wanted;
    const { common } = graph;
    if (!common) return undefined;
    for (const node of common.nodes) for (const key of await this.settle(node)) guessed.add(key);
    const figure = await this.figure(keyIn(graph, common), common, guessed);
    return figure.kind === 'common' ? figure.rect : undefined;
  }

  /** Sees that every figure of a node is known or guessed; gives the keys of the guessed ones. */
  private async settle(node: number): Promise<Set<string>> {
    const guessed = new Set<string>();
    for (const { spec, key } of figuresFor(this.ready(), node)) await this.figure(key, spec, guessed);
    return guessed;
  }

  private async figure(key: string, spec: FigureSpec, guessed: Set<string>): Promise<Figure> {
    const known = this.figures.get(key);
    if (known) return known;
    guessed.add(key);
    const before = this.guesses.get(key);
    if (before) return before;
    const still = stillOf(spec, this.ready().nodes[spec.nodes[0]].planes);
    if (still) {
      // While something above moves, the last figure that was true is nearer than none.
      const figure = this.lately.get(this.slots.get(key) ?? '') ?? still;
      this.guesses.set(key, figure);
      return figure;
    }
    const level = this.levelFor(GUESS_PIXELS);
    const images = await Promise.all(
      spec.nodes.map((n, i) => this.compute(n, levelRect(measuredRect(this.ready(), spec, i), level), level)),
    );
    const figure = measureFigure(spec, images, level);
    this.guesses.set(key, figure);
    return figure;
  }

  private levelFor(pixels: number): number {
    const { frame } = this.ready();
    return Math.min(levelCount(frame.width, frame.height) - 1, levelWithin(frame, pixels));
  }

  /** The strands that an image is woven from, made before it or kept from the last time. */
  private async strandsFor(
    node: number,
    rect: Rect,
    level: number,
    figures: ReadonlyMap<string, Figure>,
  ): Promise<Map<number, Raster>> {
    const graph = this.ready();
    const wanted = strandWindows(graph, this.ends, node, rect, level, figures);
    const given = new Map<number, Raster>();
    for (const [strand, window] of wanted) {
      const { hash } = graph.nodes[strand];
      const kept = this.made.get(hash, level, window);
      const raster = kept ?? (await this.compute(strand, window, level));
      if (!kept) this.made.put(hash, level, raster);
      given.set(strand, raster);
    }
    return given;
  }

  private async compute(node: number, rect: Rect, level: number): Promise<Raster> {
    const figures = new Map([...this.guesses, ...this.figures]);
    const evaluator = new Evaluator(
      this.ready(),
      figures,
      level,
      undefined,
      await this.strandsFor(node, rect, level, figures),
    );
    const fetched = new Map<string, { rect: Rect; pixels: Float32Array }>();
    await Promise.all(
      evaluator.needs(node, rect).map(async (need) => {
        const stack = this.stacks.get(need.stack);
        if (!stack) throw new Error(`the stack ${need.stack} is not there`);
        fetched.set(`${need.plane} ${need.stack}`, {
          rect: need.rect,
          pixels: await this.tiles.window(stack, need.plane, level, need.rect),
        });
      }),
    );
    return evaluator.run(node, rect, (stack, plane) => {
      const window = fetched.get(`${plane} ${stack}`);
      if (!window) throw new Error('a window was not fetched');
      return window;
    });
  }
}
