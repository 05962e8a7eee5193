export type ContinuumMethod = 'stars' | 'skewness';

/** A star's light in both images, their units, with errors and whether the slope kept it. */
export type StarPair = readonly [broad: number, line: number, broadError: number, lineError: number, kept: 0 | 1];

/** How much of a broadband image a line image holds. */
export interface ContinuumFit {
  readonly method: ContinuumMethod;
  readonly k: number;
  readonly kError: number;
  /** Stars used; 0 by skewness. */
  readonly stars: number;
  /** Share of pixels of `N − k·(C − sky)` below its sky − 3 noise: a thousandth is what noise alone gives, much more tells of too great a k. */
  readonly belowSky: number;
  /** False where gas, not starlight, makes up most of the line image's bright pixels, so that skewness may turn elsewhere. */
  readonly starlit: boolean;
  /** Stars for the plot, the brightest few hundred; empty by skewness. */
  readonly pairs: readonly StarPair[];
  /** Skewness of what is left at each k, for the plot. */
  readonly curve: readonly (readonly [k: number, skewness: number])[];
  /** The share below the sky at other k, about, so that one sees at once what a k by hand does. */
  readonly shares: readonly (readonly [k: number, share: number])[];
  /** Places of a few bright stars, in the images' pixels, to look at what is left of them; empty by skewness. */
  readonly spots: readonly (readonly [x: number, y: number])[];
}
