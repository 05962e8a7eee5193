import type { Wcs } from '@owl-loom/image/fits/wcs';
import type { ColourOp } from '@owl-loom/algorithms/colour/hue-ops';
import type { Measurement } from './measurements/index';
import type { Domain, PixelFunction } from '@owl-loom/image/pixel-function';
import type { Rect } from '@owl-loom/image/geometry/rect';

/** `a + b·x` of each plane. */
export interface LinearMap {
  readonly a: readonly number[];
  readonly b: readonly number[];
}

/** What smoothing does to stars, whose places and light stay. */
export interface StarBlur {
  /** Added to the square of their FWHM, px². */
  readonly wider: number;
  /** Share of their height that is left. */
  readonly lower: number;
}

/** Where the stars of a plane come from: a plane of an input, so many times as bright. */
export interface StarSource {
  readonly input: number;
  readonly plane: number;
  readonly by: number;
}

/** What a step does to pixels, with its parameters in it. */
export interface NodeKernel<R = unknown> {
  /** The window of input `i` that the output rectangle needs, in the level's pixels; left out by pointwise kernels. */
  inputRoi?(rect: Rect, level: number, input: number, figures: readonly Measurement[]): Rect;
  /** Takes the measured measurements in and gives the function that works at this level. */
  prepare(figures: readonly Measurement[], level: number): PixelFunction;
  /** What the report says was measured; left out where nothing was. */
  report?(figures: readonly Measurement[]): R;
  /** Where the kernel is nothing but `a + b·x` of its only input: measurements of the input then tell those of the output. */
  linearMap?(figures: readonly Measurement[]): LinearMap;
  /** Where the kernel is nothing but works at the colours of its only input: such kernels, one after another, are run as one. */
  colourOps?(figures: readonly Measurement[]): readonly ColourOp[];
  /** Where each plane has the stars of one plane of an input, over another sky perhaps: they need not be found anew. */
  readonly starSources?: readonly StarSource[];
  /** What smoothing makes of those stars here, by the kernel's own measurements. */
  starBlur?(figures: readonly Measurement[]): StarBlur;
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
