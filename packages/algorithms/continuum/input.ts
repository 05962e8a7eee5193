import type { StarField } from '../stars/field';

/** A line image and the broadband one whose light is taken off it; one size, no data is NaN. */
export interface ContinuumInput {
  readonly line: Float32Array;
  readonly broad: Float32Array;
  /** Their stars, in the pixels of the two. */
  readonly lineStars: StarField;
  readonly broadStars: StarField;
  /** Their skies. */
  readonly lineSky: number;
  readonly broadSky: number;
  /** Their noises: those of smoothed images are less than the lists say, whose stars were found before. */
  readonly lineNoise: number;
  readonly broadNoise: number;
  readonly width: number;
  readonly height: number;
}
