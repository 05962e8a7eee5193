import type { Measurement } from './measurements/index';
import { newRaster, type Raster, cropPlane } from '@owl-loom/image/raster/raster';
import { isEmpty, type Rect, sameRect } from '@owl-loom/image/geometry/rect';
import { applyWorks, fuseColourOps } from './colour-fusion';
import { measurementsOf, type Graph, type GraphNode } from './graph';
import type { PixelFunction, TallyKind, Tally } from '@owl-loom/image/pixel-function';
import { runFusedStrips } from './fused-strips';
import { planRois, type RoiPlan, inputRoiOf } from './roi';

/** Fetched windows: the pixels of `rect`, NaN where the stack has none. */
export type SourceReader = (stack: string, plane: number) => { readonly rect: Rect; readonly pixels: Float32Array };

/** Pixels counted, by node and by what was counted. */
export type TallyMap = Map<number, Partial<Record<TallyKind, number>>>;

export function addTally(tallies: TallyMap, node: number, what: TallyKind, pixels: number): void {
  const here = tallies.get(node) ?? {};
  tallies.set(node, { ...here, [what]: (here[what] ?? 0) + pixels });
}

/** What came of a plan: the window that was asked for, and the images on the way that were to be kept. */
export interface EvaluationResult {
  readonly raster: Raster;
  readonly kept: ReadonlyMap<number, Raster>;
}

/** Pointwise nodes of one rectangle that are run through strip by strip, and what of them is read elsewhere. */
interface FusedRun {
  readonly rect: Rect;
  readonly nodes: number[];
}

const NOTHING: ReadonlySet<number> = new Set();

/** Computes windows of a graph's nodes at one level, once their measurements are known. Every node is made once a plan. */
export class Evaluator {
  private readonly bound = new Map<number, PixelFunction>();
  /** Pixels counted on the way, by node. */
  readonly tallies: TallyMap = new Map();
  /** Milliseconds spent in each node's own kernel, where a clock was given. */
  readonly times = new Map<number, number>();

  constructor(
    private readonly graph: Graph,
    private readonly figures: ReadonlyMap<string, Measurement>,
    private readonly level: number,
    private readonly clock?: () => number,
    /** Images that have been made already, whole; what lies outside them is no data. */
    private readonly given: ReadonlyMap<number, Raster> = new Map(),
  ) {}

  /** What a window of a node needs; throws `MissingFigure` where that cannot be told yet. */
  plan(node: number, rect: Rect): RoiPlan {
    return planRois(this.graph, this.figures, this.level, node, rect, this.given);
  }

  /**
   * The pixels of a plan.
   * @param keep nodes whose pixels are wanted besides, where they are made on the way
   * @param into where the pixels are to stand, as large as the plan's rectangle
   */
  run(plan: RoiPlan, fetched: SourceReader, keep: ReadonlySet<number> = NOTHING, into?: Raster): EvaluationResult {
    const { node, rect, windows } = plan;
    const made = new Map<number, Raster>();
    if (isEmpty(rect)) return { raster: newRaster(rect, this.graph.nodes[node].planes), kept: made };
    const works = this.inOrder(plan);
    const readers = new Map<number, number>();
    for (const work of works) for (const input of this.readBy(work)) readers.set(input, (readers.get(input) ?? 0) + 1);
    const isRead = (index: number) => index === node || readers.has(index) || keep.has(index);
    for (const work of works) {
      const target = (index: number) =>
        into && index === node ? into : newRaster(windows.get(index) ?? rect, this.graph.nodes[index].planes);
      if (typeof work === 'number') made.set(work, this.whole(work, windows, made, fetched, target));
      else this.strips(work, rect, made, isRead, target);
      for (const input of this.readBy(work)) {
        const left = (readers.get(input) ?? 1) - 1;
        readers.set(input, left);
        // Memory is needed for what comes next as soon as the last reader is done.
        if (left === 0 && input !== node && !keep.has(input)) made.delete(input);
      }
    }
    const raster = made.get(node);
    if (raster && into && raster !== into) raster.planes.forEach((plane, p) => into.planes[p].set(plane));
    if (!raster) throw new Error('the plan does not lead to its node');
    return { raster, kept: new Map([...made].filter(([index]) => keep.has(index))) };
  }

  private isPointwise(index: number): boolean {
    const { kernel, stack } = this.graph.nodes[index];
    return !stack && kernel !== undefined && !kernel.inputRoi && !this.given.has(index);
  }

  /**
   * Nodes and runs in an order in which each finds its inputs made. Pointwise nodes behind as many wide ones and of one window form a run;
   * of two runs behind as many, the one of the larger window comes first, since a pointwise node never needs more than its own.
   */
  private inOrder({ windows }: RoiPlan): (number | FusedRun)[] {
    const stages = new Map<number, number>();
    const steps: { stage: number; area: number; work: number | FusedRun }[] = [];
    const runs = new Map<string, FusedRun>();
    for (const [index, rect] of windows) {
      const before = this.given.has(index) ? [] : this.graph.nodes[index].inputs;
      const stage = Math.max(0, ...before.map((input) => stages.get(input) ?? 0));
      if (!this.isPointwise(index)) {
        stages.set(index, before.length > 0 ? stage + 1 : 0);
        steps.push({ stage: stages.get(index) ?? 0, area: Number.POSITIVE_INFINITY, work: index });
        continue;
      }
      stages.set(index, stage);
      const key = `${stage} ${rect.x} ${rect.y} ${rect.width} ${rect.height}`;
      const run = runs.get(key);
      if (run) run.nodes.push(index);
      else {
        const begun: FusedRun = { rect, nodes: [index] };
        runs.set(key, begun);
        steps.push({ stage, area: rect.width * rect.height, work: begun });
      }
    }
    return steps.sort((a, b) => a.stage - b.stage || b.area - a.area).map(({ work }) => work);
  }

  /** A stack's window, an image that was given, or what a kernel makes that looks around. */
  private whole(
    index: number,
    windows: ReadonlyMap<number, Rect>,
    made: ReadonlyMap<number, Raster>,
    fetched: SourceReader,
    target: (index: number) => Raster,
  ): Raster {
    const node = this.graph.nodes[index];
    const rect = windows.get(index);
    if (!rect) throw new Error('a node is made that nobody asks for');
    const known = this.given.get(index);
    if (known) return cropRaster(known, rect);
    if (node.stack) {
      const { name, planes } = node.stack;
      const sources = planes.map((p) => fetched(name, p));
      return { rect, planes: sources.map((source) => cropPlane(source.pixels, source.rect, rect)) };
    }
    const inputs = node.inputs.map((input, i) => {
      const window = inputRoiOf(node, rect, this.level, i, this.figures);
      return isEmpty(window)
        ? newRaster(window, this.graph.nodes[input].planes)
        : cropRaster(this.of(made, input), window);
    });
    const out = target(index);
    this.applyOf(node)(inputs, out, this.tallyOf(index));
    return out;
  }

  /** The images made elsewhere that a node or a run reads. */
  private readBy(work: number | FusedRun): ReadonlySet<number> {
    if (typeof work === 'number') return new Set(this.given.has(work) ? [] : this.graph.nodes[work].inputs);
    const own = new Set(work.nodes);
    return new Set(work.nodes.flatMap((index) => this.graph.nodes[index].inputs).filter((input) => !own.has(input)));
  }

  private strips(
    run: FusedRun,
    counted: Rect,
    made: Map<number, Raster>,
    isRead: (index: number) => boolean,
    target: (index: number) => Raster,
  ): void {
    const { rect, nodes } = run;
    const outs = new Map<number, Raster>();
    for (const index of nodes) if (isRead(index)) outs.set(index, target(index));
    const inputs = new Map([...this.readBy(run)].map((input) => [input, cropRaster(this.of(made, input), rect)]));
    const figuresAt = (node: GraphNode) => measurementsOf(node, this.figures);
    const steps = fuseColourOps(this.graph.nodes, nodes, isRead, figuresAt).map(({ index, inputs: from, works }) => {
      const node = this.graph.nodes[index];
      const apply = works ? this.timed(index, applyWorks(works)) : this.applyOf(node);
      return { index, inputs: from, planes: node.planes, apply, tally: this.tallyOf(index) };
    });
    runFusedStrips({ rect, counted, steps, inputs, outs });
    for (const [index, raster] of outs) made.set(index, raster);
  }

  private of(made: ReadonlyMap<number, Raster>, index: number): Raster {
    const raster = made.get(index);
    if (!raster) throw new Error(`an image is read before it is made: ${this.graph.nodes[index].path}`);
    return raster;
  }

  private applyOf(node: GraphNode): PixelFunction {
    const known = this.bound.get(node.node);
    if (known) return known;
    if (!node.kernel) throw new Error(`node ${node.kind} has no kernel`);
    const apply = this.timed(node.node, node.kernel.prepare(measurementsOf(node, this.figures), this.level));
    this.bound.set(node.node, apply);
    return apply;
  }

  private timed(node: number, apply: PixelFunction): PixelFunction {
    const { clock } = this;
    if (!clock) return apply;
    return (inputs, out, tally) => {
      const start = clock();
      apply(inputs, out, tally);
      this.times.set(node, (this.times.get(node) ?? 0) + clock() - start);
    };
  }

  private tallyOf(index: number): Tally {
    return (what, pixels) => addTally(this.tallies, index, what, pixels);
  }
}

/** A part of an image; the image itself where that is all of it. */
const cropRaster = (raster: Raster, rect: Rect): Raster =>
  sameRect(raster.rect, rect)
    ? raster
    : { rect, planes: raster.planes.map((plane) => cropPlane(plane, raster.rect, rect)) };
