import { UserError } from '@owl-loom/base/errors';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { Mask, Recipe } from '@owl-loom/recipe/schema';
import type { ImageInfo, NodeKernel } from '../node-kernel';
import type { MeasurementSpec } from '../measurements/index';
import type { TransformChain } from '../transform-chain';
import { type RecipeError, type GraphNode, type RecipeDiagnostic, type StackInfo, measurementKey } from '../graph';
import { contentKey } from '@owl-loom/base/content-hash';
import { NamedImageMemo } from './named-image-memo';

/** An image with what only the builder needs: where it turns about, and how long it was exposed. */
export interface BuilderImage extends ImageInfo {
  /** The strand's own picture, about whose middle it is placed. */
  readonly pivotRect: Rect;
  readonly exposure?: number;
  /** Its moves so far, so that further ones join them in one resampling. */
  readonly geometry?: TransformChain;
}

/** What goes into a new node. */
export interface NodeSpec {
  readonly path: string;
  readonly kind: string;
  /** Raised whenever the same parameters begin to give other numbers. */
  readonly version: number;
  readonly inputs: readonly number[];
  readonly planes: 1 | 3;
  readonly domain: ImageInfo['domain'];
  readonly extent: Rect;
  readonly stack?: GraphNode['stack'];
  readonly kernel?: NodeKernel;
  readonly figures?: readonly MeasurementSpec[];
  /** Everything besides inputs and measurements on which the pixels depend. */
  readonly params?: unknown;
}

/** The state of a graph while it is put together. */
export class BuildContext {
  readonly nodes: GraphNode[] = [];
  /** Strands and shared masks. */
  readonly named = new NamedImageMemo();
  readonly byPath = new Map<string, number>();
  readonly layers = new Map<string, number>();
  /** Nodes whose stars a step removed, each with the node that it removed them from. */
  readonly starsRemovedFrom = new Map<number, number>();
  /** Nodes that show stars alone, each with the node that they were taken from. */
  readonly starsTakenFrom = new Map<number, number>();
  /** Memo of `nodeWithStars`. */
  readonly withStars = new Map<number, number>();
  readonly warnings: RecipeDiagnostic[] = [];
  readonly faults: RecipeError[] = [];

  constructor(
    readonly recipe: Recipe,
    readonly stacks: ReadonlyMap<string, StackInfo>,
    readonly frame: Rect,
    readonly frameName: string,
    /** Gives another strand; set by the builder. */
    readonly strand: (id: string, path: string) => BuilderImage,
    /** Gives the mask of a layer or a step over what lies below it; set by the builder. */
    readonly mask: (use: string | Mask, path: string, below: BuilderImage | undefined) => BuilderImage,
  ) {}

  private quiet = false;

  /** Makes what is not to warn: masks are stretched data by nature, whatever they are made of. */
  withoutWarnings<T>(make: () => T): T {
    return this.as(true, make);
  }

  /** Makes what has a name of its own, and warns of itself wherever it is first asked for. */
  withWarnings<T>(make: () => T): T {
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
  add(node: NodeSpec): number {
    const { version, params, figures = [], ...rest } = node;
    const { kind, planes, domain, extent } = node;
    const index = this.nodes.length;
    const figureKeys = figures.map((spec) => measurementKey(spec, this.nodes, this.frame));
    const inputs = node.inputs.map((n) => this.nodes[n].hash);
    const hash = contentKey({ kind, version, params, inputs, figures: figureKeys, planes, domain, extent });
    this.nodes.push({ ...rest, node: index, measurements: figures, measurementKeys: figureKeys, hash });
    return index;
  }

  /** Warns that a stack has another size than the frame, unless a move brings it there. */
  readonly sizeMismatches = new Map<string, RecipeDiagnostic>();

  warn(path: string, message: string): void {
    if (this.quiet) return;
    if (!this.warnings.some((w) => w.path === path && w.message === message)) this.warnings.push({ path, message });
  }

  /** Keeps a fault with the part that it spoils, and goes on with the rest. */
  addError(thrown: unknown, path: string): void {
    if (!(thrown instanceof UserError)) throw thrown;
    const where = thrown.path ?? path;
    if (!this.faults.some((f) => f.path === where && f.message === thrown.message))
      this.faults.push({ path: where, code: thrown.code, message: thrown.message });
  }
}
