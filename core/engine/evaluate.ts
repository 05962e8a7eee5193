import { type Raster, newRaster, windowOf } from '../raster/raster';
import { type Rect, isEmpty, union } from '../raster/rect';
import type { Apply, Counted, Tally } from '../steps/kind';
import type { Figure } from './figures';
import type { Graph, GraphNode } from './graph';

/** A window of a stack's plane that must be fetched before an image can be computed. */
export interface SourceNeed {
  readonly stack: string;
  readonly plane: number;
  readonly rect: Rect;
}

/** Fetched windows: the pixels of `need.rect`, NaN where the stack has none. */
export type Fetched = (stack: string, plane: number) => { readonly rect: Rect; readonly pixels: Float32Array };

/** Pixels counted, by node and by what was counted. */
export type Tallies = Map<number, Partial<Record<Counted, number>>>;

export function addTally(tallies: Tallies, node: number, what: Counted, pixels: number): void {
  const here = tallies.get(node) ?? {};
  tallies.set(node, { ...here, [what]: (here[what] ?? 0) + pixels });
}

/** A figure that has not been measured yet stands in the way. */
export class MissingFigure extends Error {
  constructor(readonly key: string) {
    super('a figure has not been measured yet');
  }
}

/** Pixels that a run of pointwise steps works on at a time: all its scratch stays in the processor's cache. */
const STRIP = 8192;

function figuresOf(node: GraphNode, figures: ReadonlyMap<string, Figure>): Figure[] {
  return node.figureKeys.map((key) => {
    const figure = figures.get(key);
    if (!figure) throw new MissingFigure(key);
    return figure;
  });
}

/** The window of its i-th input that a node needs for a window of its own. */
export const windowNeeded = (
  node: GraphNode,
  window: Rect,
  level: number,
  i: number,
  figures: ReadonlyMap<string, Figure>,
): Rect => node.kernel?.needs?.(window, level, i, figuresOf(node, figures)) ?? window;

const uncounted = (): void => undefined;

/** Computes windows of a graph's nodes at one level, once their figures are known. */
export class Evaluator {
  private readonly bound = new Map<number, Apply>();
  private asked: Rect = { x: 0, y: 0, width: 0, height: 0 };
  private readonly orders = new Map<number, { order: number[]; frontier: number[] }>();
  /** Pixels counted on the way, by node. */
  readonly tallies: Tallies = new Map();
  /** Milliseconds spent in each node's own kernel, where a clock was given. */
  readonly times = new Map<number, number>();

  constructor(
    private readonly graph: Graph,
    private readonly figures: ReadonlyMap<string, Figure>,
    private readonly level: number,
    private readonly clock?: () => number,
    /** Images that have been made already, whole; what lies outside them is no data. */
    private readonly given: ReadonlyMap<number, Raster> = new Map(),
  ) {}

  /** The windows of stacks that a window of a node needs. */
  needs(node: number, rect: Rect): SourceNeed[] {
    const found = new Map<string, SourceNeed>();
    const seen = new Set<string>();
    const walk = (index: number, window: Rect): void => {
      const mark = `${index}:${window.x},${window.y},${window.width},${window.height}`;
      if (seen.has(mark)) return;
      seen.add(mark);
      if (this.given.has(index)) return;
      const here = this.graph.nodes[index];
      if (here.stack) {
        for (const plane of here.stack.planes) {
          const key = `${plane} ${here.stack.name}`;
          const before = found.get(key);
          found.set(key, { stack: here.stack.name, plane, rect: before ? union(before.rect, window) : window });
        }
        return;
      }
      here.inputs.forEach((input, i) => walk(input, windowNeeded(here, window, this.level, i, this.figures)));
    };
    walk(node, rect);
    return [...found.values()];
  }

  /** The pixels of a window. */
  run(node: number, rect: Rect, fetched: Fetched): Raster {
    this.asked = rect;
    return this.make(node, rect, fetched);
  }

  private make(index: number, rect: Rect, fetched: Fetched): Raster {
    const node = this.graph.nodes[index];
    if (isEmpty(rect)) return newRaster(rect, node.planes);
    const known = this.given.get(index);
    if (known) return { rect, planes: known.planes.map((plane) => windowOf(plane, known.rect, rect)) };
    if (node.stack) {
      const { name, planes } = node.stack;
      return { rect, planes: planes.map((p) => window(fetched(name, p), rect)) };
    }
    if (!node.kernel?.needs) return this.strips(index, rect, fetched);
    const inputs = node.inputs.map((input, i) =>
      this.make(input, windowNeeded(node, rect, this.level, i, this.figures), fetched),
    );
    const out = newRaster(rect, node.planes);
    this.applyOf(node)(inputs, out, this.tallyOf(index));
    return out;
  }

  /** A run of pointwise nodes that ends in `root`, fused: strip by strip through all of them. */
  private strips(root: number, rect: Rect, fetched: Fetched): Raster {
    const { order, frontier } = this.orderOf(root);
    const ready = new Map(frontier.map((index) => [index, this.make(index, rect, fetched)]));
    const rows = Math.max(1, Math.min(rect.height, Math.floor(STRIP / rect.width)));
    const scratch = new Map(
      order.map((index) => [
        index,
        index === root ? undefined : newRaster({ ...rect, height: rows }, this.graph.nodes[index].planes),
      ]),
    );
    const out = newRaster(rect, this.graph.nodes[root].planes);
    // Strips end where the rows that were asked for begin and end: only there are pixels counted, or rows that neighbours need would count twice.
    const edges = [this.asked.y, this.asked.y + this.asked.height].filter(
      (y) => y > rect.y && y < rect.y + rect.height,
    );
    for (let y = rect.y; y < rect.y + rect.height; ) {
      const end = Math.min(y + rows, rect.y + rect.height, ...edges.filter((edge) => edge > y));
      const strip: Rect = { x: rect.x, y, width: rect.width, height: end - y };
      const counts = y >= this.asked.y && end <= this.asked.y + this.asked.height;
      y = end;
      const done = new Map<number, Raster>();
      const inputOf = (index: number): Raster => {
        const here = done.get(index);
        if (here) return here;
        const made = ready.get(index);
        if (!made) throw new Error('a strip lacks its input');
        return { rect: strip, planes: made.planes.map((plane) => windowOf(plane, rect, strip)) };
      };
      for (const index of order) {
        const node = this.graph.nodes[index];
        const held = scratch.get(index);
        const planes = held
          ? held.planes.map((plane) => plane.subarray(0, strip.width * strip.height))
          : out.planes.map((plane) => windowOf(plane, rect, strip));
        const target: Raster = { rect: strip, planes };
        this.applyOf(node)(node.inputs.map(inputOf), target, counts ? this.tallyOf(index) : uncounted);
        done.set(index, target);
      }
    }
    return out;
  }

  /** Pointwise nodes that lead to `root`, inputs first, and the nodes at which the run begins. */
  private orderOf(root: number): { order: number[]; frontier: number[] } {
    const known = this.orders.get(root);
    if (known) return known;
    const order: number[] = [];
    const frontier = new Set<number>();
    const seen = new Set<number>();
    const visit = (index: number): void => {
      if (seen.has(index)) return;
      seen.add(index);
      const node = this.graph.nodes[index];
      if (node.stack || node.kernel?.needs || this.given.has(index)) frontier.add(index);
      else {
        node.inputs.forEach(visit);
        order.push(index);
      }
    };
    visit(root);
    const found = { order, frontier: [...frontier] };
    this.orders.set(root, found);
    return found;
  }

  private applyOf(node: GraphNode): Apply {
    const known = this.bound.get(node.node);
    if (known) return known;
    if (!node.kernel) throw new Error(`node ${node.kind} has no kernel`);
    const apply = this.timed(node.node, node.kernel.bind(figuresOf(node, this.figures), this.level));
    this.bound.set(node.node, apply);
    return apply;
  }

  private timed(node: number, apply: Apply): Apply {
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

const window = (source: { rect: Rect; pixels: Float32Array }, rect: Rect): Float32Array =>
  windowOf(source.pixels, source.rect, rect);
