import { UserError } from '../errors';
import type { Rect } from '../raster/rect';
import type { Mask, Recipe } from '../recipe/schema';
import type { ImageInfo, Kernel } from '../engine/kernel';
import type { FigureSpec } from '../figures/index';
import type { Geometry } from './geometry';
import { type Fault, type GraphNode, type Notice, type StackInfo, figureKey } from './graph';
import { keyOf } from './hash';
import { NamedImages } from './named';

/** An image with what only the builder needs: where it turns about, and how long it was exposed. */
export interface Image extends ImageInfo {
  /** The strand's own picture, about whose middle it is placed. */
  readonly origin: Rect;
  readonly exposure?: number;
  /** Its moves so far, so that further ones join them in one resampling. */
  readonly geometry?: Geometry;
}

/** What goes into a new node. */
export interface NewNode {
  readonly path: string;
  readonly kind: string;
  /** Raised whenever the same parameters begin to give other numbers. */
  readonly version: number;
  readonly inputs: readonly number[];
  readonly planes: 1 | 3;
  readonly domain: ImageInfo['domain'];
  readonly extent: Rect;
  readonly stack?: GraphNode['stack'];
  readonly kernel?: Kernel;
  readonly figures?: readonly FigureSpec[];
  /** Everything besides inputs and figures on which the pixels depend. */
  readonly params?: unknown;
}

/** The state of a graph while it is put together. */
export class BuildContext {
  readonly nodes: GraphNode[] = [];
  /** Strands and shared masks. */
  readonly named = new NamedImages();
  readonly byPath = new Map<string, number>();
  readonly layers = new Map<string, number>();
  /** Nodes whose stars a step removed, each with the node that it removed them from. */
  readonly starsRemovedFrom = new Map<number, number>();
  /** Nodes that show stars alone, each with the node that they were taken from. */
  readonly starsTakenFrom = new Map<number, number>();
  /** Memo of `nodeWithStars`. */
  readonly withStars = new Map<number, number>();
  readonly warnings: Notice[] = [];
  readonly faults: Fault[] = [];

  constructor(
    readonly recipe: Recipe,
    readonly stacks: ReadonlyMap<string, StackInfo>,
    readonly frame: Rect,
    readonly frameName: string,
    /** Gives another strand; set by the builder. */
    readonly strand: (id: string, path: string) => Image,
    /** Gives the mask of a layer or a step over what lies below it; set by the builder. */
    readonly mask: (use: string | Mask, path: string, below: Image | undefined) => Image,
  ) {}

  private quiet = false;

  /** Makes what is not to warn: masks are stretched data by nature, whatever they are made of. */
  quietly<T>(make: () => T): T {
    return this.as(true, make);
  }

  /** Makes what has a name of its own, and warns of itself wherever it is first asked for. */
  aloud<T>(make: () => T): T {
    return this.as(false, make);
  }

  private as<T>(quiet: boolean, make: () => T): T {
    const before = this.quiet;
    this.quiet = quiet;
    try {
      return make();
    } finally {
      this.quiet = before;
    }
  }

  /** Adds a node. Its identity is made here and nowhere else. */
  add(node: NewNode): number {
    const { version, params, figures = [], ...rest } = node;
    const { kind, planes, domain, extent } = node;
    const index = this.nodes.length;
    const figureKeys = figures.map((spec) => figureKey(spec, this.nodes, this.frame));
    const inputs = node.inputs.map((n) => this.nodes[n].hash);
    const hash = keyOf({ kind, version, params, inputs, figures: figureKeys, planes, domain, extent });
    this.nodes.push({ ...rest, node: index, figures, figureKeys, hash });
    return index;
  }

  /** Warns that a stack has another size than the frame, unless a move brings it there. */
  readonly misfits = new Map<string, Notice>();

  warn(path: string, message: string): void {
    if (this.quiet) return;
    if (!this.warnings.some((w) => w.path === path && w.message === message)) this.warnings.push({ path, message });
  }

  /** Keeps a fault with the part that it spoils, and goes on with the rest. */
  fault(thrown: unknown, path: string): void {
    if (!(thrown instanceof UserError)) throw thrown;
    const where = thrown.path ?? path;
    if (!this.faults.some((f) => f.path === where && f.message === thrown.message))
      this.faults.push({ path: where, code: thrown.code, message: thrown.message });
  }
}
