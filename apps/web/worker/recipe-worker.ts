import { type ColourHistogram, colourHistogram } from '@owl-loom/algorithms/colour/colour-histogram';
import type { DriftSummary } from '@owl-loom/algorithms/colour/drift';
import type { Graph } from '@owl-loom/engine/graph';
import { UserError } from '@owl-loom/base/errors';
import type { Unfinished } from '@owl-loom/engine/measurements/failures';
import { levelForPixelCount } from '@owl-loom/engine/estimator';
import { type NoiseContributions, propagateNoise } from '@owl-loom/engine/noise-propagation';
import { stepAt } from '@owl-loom/recipe/names';
import { marginsSpec, measurementKeyIn, reportOf, withKey, specsFor } from '@owl-loom/engine/measurement-plan';
import type { Measurement, MeasurementSpec } from '@owl-loom/engine/measurements/index';
import type { StarMarkers } from '@owl-loom/engine/measurements/star-markers';
import { rectAtFullSize, rectAtLevel, levelForPixels } from '@owl-loom/image/pyramid/pyramid';
import { intersect, type Rect } from '@owl-loom/image/geometry/rect';
import { turnInFrame, uprightWithin } from '@owl-loom/image/geometry/turned';
import type { Recipe } from '@owl-loom/recipe/schema';
import { darkestFlatRect } from '@owl-loom/image/stats/darkest-flat-rect';
import { type HistogramBins, type PlaneSummary, summarise } from '@owl-loom/image/stats/summary';
import { COLOUR_PIXELS, RegionWatch } from './region-watch';
import { drawView, type RecipeSide, touchedOn } from './draw';
import type {
  ChangeRef,
  DescribeReply,
  DisplayOptions,
  DrawReply,
  EdgesReply,
  OriginReply,
  PathInfo,
  RegionReply,
  RecipeInfo,
  WorkerStack,
} from './protocol';
import { ColourAttribution } from './colour-attribution';
import { shareOf } from './changed-pixels';
import { RecipeEvaluator } from './recipe-evaluator';

/** Measurements that have charts or marks on the picture. */
const CHARTED: ReadonlySet<MeasurementSpec['kind']> = new Set(['fit', 'continuum', 'gradient', 'starless']);

/** Pixels of a region up to which its statistics come from full size. */
const REGION_PIXELS = 1_500_000;
/** Pixels of the level on which what a layer changes is counted, and a mask's ends are looked for. */
const COUNTED_PIXELS = 150_000;
/** Pixels of the level on which the quiet place is sought. */
const QUIET_PIXELS = 160_000;

/** The rectangle that a recipe gives its cloth. */
const extentOf = ({ cloth }: Recipe): Rect | undefined =>
  typeof cloth?.extent === 'object' ? cloth.extent : undefined;

/** What is known of each image of a recipe. */
const pathsOf = ({ nodes, byPath }: Graph): Record<string, PathInfo> =>
  Object.fromEntries([...byPath].map(([path, n]) => [path, { planes: nodes[n].planes, domain: nodes[n].domain }]));

/** The open recipe in the worker, and what the page asks of it. */
export class RecipeWorker {
  private readonly evaluator = new RecipeEvaluator();
  /** The open recipe's images, and those of one that is held against it. */
  private open: RecipeSide = { evaluator: this.evaluator };
  private beside: RecipeSide | undefined;

  private recipe: Recipe | undefined;
  private readonly watch = new RegionWatch(this.evaluator);

  set(recipe: Recipe, stacks: readonly WorkerStack[], beside?: Recipe): RecipeInfo {
    const graph = this.evaluator.set(recipe, stacks);
    this.open = { evaluator: this.evaluator, extent: extentOf(recipe), turned: turnInFrame(recipe.cloth?.orient) };
    this.recipe = recipe;
    const besideFault = this.setBeside(stacks, beside);
    const { frame, warnings, faults } = graph;
    return {
      frame,
      paths: pathsOf(graph),
      hashes: Object.fromEntries([...graph.byPath].map(([path, n]) => [path, graph.nodes[n].hash])),
      beside: this.beside ? pathsOf(this.beside.evaluator.graph) : {},
      besideFault,
      warnings,
      faults,
      unfinished: this.evaluator.unfinished,
    };
  }

  /**
   * While a hand moves in the open recipe, the one beside it mostly stays as it is. One that cannot be made leaves the open one alone.
   * @returns why its picture cannot be made
   */
  private setBeside(stacks: readonly WorkerStack[], recipe: Recipe | undefined): string | null {
    const beside = this.beside?.evaluator ?? new RecipeEvaluator(this.evaluator);
    this.beside = undefined;
    if (!recipe) return null;
    try {
      const { cloth, faults } = beside.set(recipe, stacks);
      this.beside = { evaluator: beside, extent: extentOf(recipe), turned: turnInFrame(recipe.cloth?.orient) };
      return cloth === undefined && faults.length > 0 ? faults[0].message : null;
    } catch (error) {
      if (!(error instanceof UserError)) throw error;
      return error.message;
    }
  }

  addMeasurements(
    figures: Readonly<Record<string, Measurement>>,
    failed: Readonly<Record<string, string>> = {},
  ): Unfinished {
    this.evaluator.known.learn(figures, failed);
    return this.evaluator.unfinished;
  }

  /** What has been estimated of the open recipe's measurements, by key. */
  guessed(): Record<string, Measurement> {
    return this.evaluator.known.guessed();
  }

  /** Takes over what another has estimated. */
  addEstimates(guesses: Readonly<Record<string, Measurement>>): void {
    this.evaluator.known.guess(guesses);
  }

  draw(path: string, rect: Rect, level: number, display: DisplayOptions): Promise<DrawReply> {
    return drawView(this.open, this.beside, this.nodeOf(path), path, rect, level, display);
  }

  /** Share of the picture that a layer or step changes, from a level that is fine enough. */
  async touched(change: ChangeRef): Promise<number | null> {
    const { graph } = this.evaluator;
    const level = levelForPixelCount(graph, COUNTED_PIXELS);
    const rect = rectAtLevel(graph.frame, level);
    const plane = await touchedOn(this.open, change, { rect, level, guessed: new Set() });
    return plane ? shareOf(plane) : null;
  }

  /** The least and the greatest value of an image on a level that is fine enough; null where it has no data. */
  async valueRange(path: string): Promise<[number, number] | null> {
    const { graph } = this.evaluator;
    const node = this.nodeOf(path);
    const level = levelForPixelCount(graph, COUNTED_PIXELS);
    await this.evaluator.settle(node);
    const { planes } = await this.evaluator.compute(node, rectAtLevel(graph.frame, level), level);
    let [min, max] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
    for (const v of planes[0]) {
      if (v < min) min = v;
      if (v > max) max = v;
    }
    return min <= max ? [min, max] : null;
  }

  /** Which colours an image has in a rectangle, from a level that is fine enough. */
  async colours(path: string, rect: Rect): Promise<ColourHistogram> {
    const node = this.nodeOf(path);
    const level = levelForPixels(rect, COLOUR_PIXELS);
    await this.evaluator.settle(node);
    const window = rectAtLevel(intersect(rect, this.evaluator.graph.frame), level);
    return colourHistogram(await this.evaluator.compute(node, window, level), this.evaluator.graph.nodes[node].domain);
  }

  /** From now on it is told how far the finished cloth moves in a rectangle; null lets it go. */
  guard(rect: Rect | null): Promise<null> {
    return this.watch.over(rect);
  }

  /** How far the guarded place has moved; null where none is. */
  guarded(): Promise<DriftSummary | null> {
    return this.watch.moved();
  }

  /** Where the colour of a rectangle comes from; null where there is no cloth. */
  async origin(rect: Rect): Promise<OriginReply | null> {
    return this.recipe ? new ColourAttribution(this.evaluator, this.recipe, rect).reply() : null;
  }

  /** Statistics of a rectangle in each of the paths that can be made. */
  async region(rect: Rect, paths: readonly string[]): Promise<RegionReply> {
    const graph = this.evaluator.graph;
    const level = levelForPixels(rect, REGION_PIXELS);
    const window = rectAtLevel(rect, level);
    const planes: Record<string, PlaneSummary[]> = {};
    for (const path of paths) {
      const node = graph.byPath.get(path);
      if (node === undefined) continue;
      await this.evaluator.settle(node);
      const raster = await this.evaluator.compute(node, window, level);
      planes[path] = raster.planes.map((plane) => summarise(plane, window.width, window.height));
    }
    return { planes, level };
  }

  /** Where strands in use and moved layers end before the frame does. */
  async edges(): Promise<EdgesReply> {
    const { graph } = this.evaluator;
    const guessed = new Set<string>();
    const parts: EdgesReply['parts'][number][] = [];
    for (const { path, node } of graph.coverageParts) {
      const figure = await this.evaluator.figure(withKey(graph, marginsSpec(node)), guessed);
      if (figure.kind !== 'ends') continue;
      const { ends } = figure;
      if (!ends || Object.values(ends).some((by) => by > 0)) parts.push({ path, ends });
    }
    const exact = guessed.size === 0;
    const cut = graph.commonAreaSpec && (await this.evaluator.figure(withKey(graph, graph.commonAreaSpec), new Set()));
    return { parts, exact, common: cut?.kind === 'common' ? uprightWithin(cut.rect, this.open.turned ?? 0) : null };
  }

  /** The darkest even place of the images at these paths, in full-size pixels; null where there is none. */
  async findDarkestFlatRect(paths: readonly string[]): Promise<Rect | null> {
    const graph = this.evaluator.graph;
    const level = levelForPixelCount(graph, QUIET_PIXELS);
    const window = rectAtLevel(graph.frame, level);
    const planes: Float32Array[] = [];
    for (const path of paths) {
      const node = graph.byPath.get(path);
      if (node === undefined || graph.nodes[node].domain === 'stretched') continue;
      await this.evaluator.settle(node);
      planes.push(...(await this.evaluator.compute(node, window, level)).planes);
    }
    const found = planes.length > 0 ? darkestFlatRect(planes, window.width, window.height) : undefined;
    return found ? rectAtFullSize(found, level) : null;
  }

  /** From now on an image's pixels come from its proof. */
  addProof(hash: string): void {
    this.evaluator.prove(hash);
  }

  /** Values of one full-size pixel in each of the paths that can be made. */
  async probe(x: number, y: number, paths: readonly string[]): Promise<Record<string, number[]>> {
    const graph = this.evaluator.graph;
    const found: Record<string, number[]> = {};
    for (const path of paths) {
      const node = graph.byPath.get(path);
      if (node === undefined) continue;
      await this.evaluator.settle(node);
      const raster = await this.evaluator.compute(node, { x, y, width: 1, height: 1 }, 0);
      found[path] = raster.planes.map((plane) => plane[0]);
    }
    return found;
  }

  /** The histogram of each plane, true where it has been measured at full size, else estimated. */
  async histogram(path: string): Promise<readonly HistogramBins[]> {
    await this.evaluator.settle(this.nodeOf(path));
    const graph = this.evaluator.graph;
    const spec = specsFor(graph, { figure: 'counts', path })[0];
    const figure = spec && (await this.evaluator.figure(withKey(graph, spec), new Set()));
    return figure?.kind === 'counts' ? figure.planes : [];
  }

  describe(): DescribeReply {
    const graph = this.evaluator.graph;
    const known = this.evaluator.known.toTell();
    const charts: Record<string, Measurement> = {};
    const tones: Record<string, Measurement> = {};
    const stars: Record<string, StarMarkers> = {};
    const hangs: Record<string, readonly NoiseContributions[]> = {};
    for (const node of graph.nodes) {
      node.measurements.forEach((spec, i) => {
        const figure = known.get(node.measurementKeys[i]);
        if (CHARTED.has(spec.kind) && figure) charts[node.path] = figure;
      });
    }
    for (const [path, n] of graph.byPath) {
      const byStars =
        graph.nodes[n].kind === 'continuum' && charts[path] === undefined
          ? specsFor(graph, { figure: 'continuum', path })[0]
          : undefined;
      const chart = byStars && known.get(measurementKeyIn(graph, byStars));
      if (chart) charts[path] = chart;
      const figure = known.get(measurementKeyIn(graph, { kind: 'tone', nodes: [n] }));
      if (figure) tones[path] = figure;
      const hang =
        /^strands\[\d+\]$/.test(path) && graph.nodes[n].domain === 'linear'
          ? propagateNoise(graph, n, known)
          : undefined;
      if (hang) hangs[path] = hang;
      const list = this.evaluator.known.truth(measurementKeyIn(graph, { kind: 'marks', nodes: [n] }));
      if (list?.kind === 'marks') stars[path] = list;
    }
    const all = graph.nodes.map((_, i) => i);
    const measured = reportOf(graph, all, known);
    const steps = [...Object.keys(measured), ...Object.keys(charts)].flatMap((path) => {
      const step = stepAt(graph.recipe, path);
      return step ? [[path, step.do] as const] : [];
    });
    return {
      measured,
      kinds: Object.fromEntries(steps),
      charts,
      hangs,
      tones,
      stars,
    };
  }

  private nodeOf(path: string): number {
    const node = this.evaluator.graph.byPath.get(path);
    if (node === undefined) throw new Error('This part of the recipe cannot be shown until its fault is mended.');
    return node;
  }
}
