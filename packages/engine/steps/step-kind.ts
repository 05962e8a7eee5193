import type { z } from 'zod';
import type { MeasurementSpec } from '../measurements/index';
import type { Rect } from '#image/geometry/rect';
import type { GeometricMove } from '../transform-chain';
import type { Domain } from '#image/pixel-function';
import type { ImageInfo, NodeKernel } from '../node-kernel';

/** What a step kind may ask about the recipe it stands in. */
export interface StepContext {
  readonly input: ImageInfo;
  /** The strands named by `strands(params)`, in that order. */
  readonly others: readonly ImageInfo[];
  /** The recipe's sky region. */
  readonly sky?: Rect;
  /** Where automatic geometry turns about: the middle of the strand's own picture. */
  readonly origin: Rect;
  /** The recipe's frame. */
  readonly frame: Rect;
  /** Figures pinned by the step's `hold`. */
  readonly hold?: Readonly<Record<string, number | string | number[]>>;
  /**
   * A stack moved as the step's input has been moved from its own.
   * @throws UserError where there is no such stack, it does not match, or what comes in is no longer a stack's own pixels
   */
  partnerImage(stack: string): ImageInfo;
  /** Adds an image that the step needs on its way. */
  addIntermediate(node: IntermediateNode): ImageInfo;
  /** The image on which an image's stars are measured: its last state before a step removed them, on the same pixels and scale. */
  withStars(image: ImageInfo): ImageInfo;
  /** The picture that an image's stars were taken from, where it shows stars alone. */
  pictureOfStars(image: ImageInfo): ImageInfo | undefined;
  /**
   * Where what comes in was brought to the display pixel by pixel: the linear image that it was made of, and the same way for another image
   * like that one, by the very figures.
   */
  readonly linearAncestor?: LinearAncestor;
  /** Path of the step, for errors. */
  readonly path: string;
}

/** The linear image before a stretch and what stands between. */
export interface LinearAncestor {
  readonly linear: ImageInfo;
  reapplyStretch(image: ImageInfo): ImageInfo;
}

/** An image between a step's input and its result. */
export interface IntermediateNode extends Omit<ImageInfo, 'node' | 'wcs'> {
  readonly kind: string;
  /** Raised whenever the same parameters begin to give other numbers. */
  readonly version: number;
  readonly inputs: readonly number[];
  readonly kernel: NodeKernel;
  readonly figures?: readonly MeasurementSpec[];
  /** Everything besides inputs and figures on which the pixels depend. */
  readonly params?: unknown;
}

/** A step made ready: which figures it wants, what it does. */
export interface StepNode {
  readonly kernel: NodeKernel;
  readonly figures: readonly MeasurementSpec[];
  readonly planes: 1 | 3;
  readonly extent: Rect;
  /** Node of the first input, where that is not the step's own. */
  readonly from?: number;
  /** Whether the result lacks the stars of the input: whatever needs stars is then measured on the input. */
  readonly removesStars?: boolean;
  /** Whether the result shows the stars of the input alone, over a sky of 0. */
  readonly starsAlone?: boolean;
  /** Nodes of other images whose pixels the kernel reads, as its inputs after the first. */
  readonly reads?: readonly number[];
}

/** Where a new step is to stand, as far as its parameters may hang on that. */
export interface NewStepContext {
  /** Ids of the other strands, in the order of the recipe. */
  readonly others: readonly string[];
  readonly frame: Rect;
  /** The colour of the strand that it stands on, or that its layer shows, `#rrggbb`; left out where it has none of its own. */
  readonly colour?: string;
}

/** What steps are needed for, in the order of the work. */
export const STEP_GROUPS = {
  place: 'size and place',
  sky: 'sky, brightness, colour balance',
  lines: 'line filters',
  detail: 'noise and detail',
  stars: 'stars and blemishes',
  show: 'to the display',
  colour: 'colour',
  mask: 'for masks',
} as const;

/** One operation on a strand: a module of its own, which is all that the engine and the page's lists know of it. */
export interface StepSpec<S extends z.ZodObject = z.ZodObject> {
  readonly do: string;
  /** As people read it. */
  readonly name: string;
  /** What it does, in a line. */
  readonly summary: string;
  /** What to look for, and what goes wrong when it is too much. */
  readonly hints: { readonly for: string; readonly tooMuch: string };
  /** When one needs it. */
  readonly group: keyof typeof STEP_GROUPS;
  /** Other words of the trade for it, by which people look for it. */
  readonly searchTerms: readonly string[];
  /** Raised whenever the same parameters begin to give other numbers; it is part of every key. */
  readonly version: number;
  readonly params: S;
  readonly accepts: { readonly planes: 'mono' | 'colour' | 'either'; readonly domain: Domain };
  readonly produces: { readonly domain: 'same' | Domain };
  /** What the report says was measured that `hold` can pin; left out where there is nothing to pin. */
  readonly pinnable?: readonly string[];
  /** Whether it works on stars where they stand: after a step that removed them it has nothing to do, and says so. */
  readonly needsStars?: true;
  /**
   * Whether its result is kept at full size once it has been made, so that what comes after it starts from the truth on every level. For
   * steps that a coarse level shows otherwise than they are.
   */
  readonly cacheResult?: true;
  /** What a step newly made says beside its kind; left out where the defaults are a good beginning. */
  initialParams?(where: NewStepContext): z.input<S>;
  /** Ids of other strands that the step reads. */
  strandsRead?(params: z.output<S>): string[];
  /** What the step does to pixels; left out by steps that only move the image. */
  build?(params: z.output<S>, place: StepContext): StepNode;
  /** Where the step moves the image. Moves of one strand are made in one resampling. */
  move?(params: z.output<S>, place: StepContext): GeometricMove;
}

/** The parameters of a kind, defaults filled in. */
export type StepParams<K extends StepSpec> = K extends StepSpec<infer S> ? z.output<S> : never;

/** Gives a step kind the types of its own parameters. */
export const defineStep = <S extends z.ZodObject>(kind: StepSpec<S>): StepSpec<S> => kind;
