import type { z } from 'zod';
import type { Raster } from '../raster/raster';
import type { Rect } from '../raster/rect';
import type { Figure, FigureSpec } from '../engine/figures';
import type { Move } from '../engine/geometry';
import type { Wcs } from '../align/wcs';

/** Whether numbers still follow the light, or have been through a stretch. `either` is plain colour, which goes with both. */
export type Domain = 'linear' | 'stretched' | 'either';

/** Counts that a kernel makes on its way, such as pixels only partly covered. */
export type Tally = (what: Counted, pixels: number) => void;

/** `partly-covered`: some strands of a mix have no data there. `no-answer`: a formula divided by zero or the like, and 0 was taken. */
export type Counted = 'partly-covered' | 'no-answer';

/** Pixels in, pixels out. `inputs[i].rect` is what `needs` asked for; for pointwise kernels all rectangles are `out.rect`. */
export type Apply = (inputs: readonly Raster[], out: Raster, tally: Tally) => void;

/** What a step does to pixels, with its parameters in it. */
export interface Kernel {
  /** The window of input `i` that the output rectangle needs, in the level's pixels; left out by pointwise kernels. */
  needs?(rect: Rect, level: number, input: number, figures: readonly Figure[]): Rect;
  /** Takes the measured figures in and gives the function that works at this level. */
  bind(figures: readonly Figure[], level: number): Apply;
  /** What the report says was measured; left out where nothing was. */
  describe?(figures: readonly Figure[]): unknown;
}

/** What is known of an image before any pixel of it is made. */
export interface ImageInfo {
  readonly node: number;
  readonly planes: 1 | 3;
  readonly domain: Domain;
  /** Where it can have data, in frame pixels at full size. */
  readonly extent: Rect;
  /** Where its file says that it lies on the sky; only as long as it has not been moved. */
  readonly wcs?: Wcs | UnusableWcs;
}

/** Why a file's place on the sky cannot be used. */
export interface UnusableWcs {
  readonly trouble: string;
}

/** What a step kind may ask about the recipe it stands in. */
export interface StepPlace {
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
  /** Adds an image that the step needs on its way. */
  derive(node: Derived): ImageInfo;
  /** Path of the step, for errors. */
  readonly path: string;
}

/** An image between a step's input and its result. */
export interface Derived extends Omit<ImageInfo, 'node' | 'wcs'> {
  readonly kind: string;
  readonly inputs: readonly number[];
  readonly kernel: Kernel;
  readonly figures?: readonly FigureSpec[];
  /** Everything besides inputs and figures on which the pixels depend. */
  readonly identity: unknown;
}

/** A step made ready: which figures it wants, what it does. */
export interface BuiltStep {
  readonly kernel: Kernel;
  readonly figures: readonly FigureSpec[];
  readonly planes: 1 | 3;
  readonly extent: Rect;
  /** Node of the first input, where that is not the step's own. */
  readonly from?: number;
  /** Nodes of other images whose pixels the kernel reads, as its inputs after the first. */
  readonly reads?: readonly number[];
}

/** One operation on a strand: a module of its own, which is all that the engine knows of it. */
export interface StepKind<S extends z.ZodObject = z.ZodObject> {
  readonly do: string;
  /** Raised whenever the same parameters begin to give other numbers; it is part of every key. */
  readonly version: number;
  readonly params: S;
  readonly takes: { readonly planes: 'mono' | 'colour' | 'either'; readonly domain: Domain };
  readonly gives: { readonly domain: 'same' | Domain };
  /** Ids of other strands that the step reads. */
  strands?(params: z.output<S>): string[];
  /** True where the step is `a + b·x` at every pixel: it may then go before or after a move without a difference. */
  readonly affine?: boolean;
  /** What the step does to pixels; left out by steps that only move the image. */
  build?(params: z.output<S>, place: StepPlace): BuiltStep;
  /** Where the step moves the image. Moves of one strand are made in one resampling. */
  move?(params: z.output<S>, place: StepPlace): Move;
}

/** Gives a step kind its parameter type; the engine holds all kinds in one list. */
export const stepKind = <S extends z.ZodObject>(kind: StepKind<S>): StepKind => kind as unknown as StepKind;
