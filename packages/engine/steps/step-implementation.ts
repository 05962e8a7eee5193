import type { z } from 'zod';
import type { StepSpec } from '@owl-loom/recipe/steps/step-spec';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { MeasurementSpec } from '../measurements/index';
import type { GeometricMove } from '../transform-chain';
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
  /** Measurements pinned by the step's `hold`. */
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
   * like that one, by the very measurements.
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
  /** Everything besides inputs and measurements on which the pixels depend. */
  readonly params?: unknown;
}

/** A step made ready: which measurements it wants, what it does. */
export interface StepNode<R = unknown> {
  readonly kernel: NodeKernel<R>;
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

/** What a step does to pixels. */
export interface StepImplementation<S extends z.ZodObject = z.ZodObject, R = unknown> {
  /** Raised whenever the same parameters begin to give other numbers; it is part of every key. */
  readonly version: number;
  /** What the step does to pixels; left out by steps that only move the image. */
  build?(params: z.output<S>, place: StepContext): StepNode<R>;
  /** Where the step moves the image. Moves of one strand are made in one resampling. */
  move?(params: z.output<S>, place: StepContext): GeometricMove<R>;
}

/** A step whole: what is said of it, and what it does. */
export type StepKind<S extends z.ZodObject = z.ZodObject, R = unknown> = StepSpec<S, R> & StepImplementation<S, R>;

/** Binds what a step does to its description. */
export const implementStep = <S extends z.ZodObject, R>(
  spec: StepSpec<S, R>,
  work: StepImplementation<S, NoInfer<R>>,
): StepKind<S, R> => ({
  ...spec,
  ...work,
});
