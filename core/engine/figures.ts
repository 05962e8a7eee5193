import type { Rect } from '../raster/rect';
import type { LinearFit } from '../fit/linear';
import type { Alignment } from '../align/align';
import type { AlignModel } from '../align/solve';
import type { Continuum, ContinuumMethod } from '../continuum/continuum';
import type { Seeing } from '../continuum/seeing';
import type { Gradient, GradientParams } from '../gradient/gradient';
import type { Wcs } from '../align/wcs';
import type { White } from '../stars/white';
import type { Counts } from '../stats/summary';
import type { PlaneTone } from '../stats/tone';
import type { FitMethod } from '../fit/linear';

/** A figure wanted from whole images at full size. `nodes` are numbers of the graph's nodes. */
export type FigureSpec =
  | { readonly kind: 'tone'; readonly nodes: readonly [number]; readonly region?: Rect }
  | {
      readonly kind: 'fit';
      /** Target, then reference. */
      readonly nodes: readonly [number, number];
      readonly method: FitMethod;
      readonly region?: Rect;
      /** The recipe's sky region. */
      readonly sky?: Rect;
      readonly low?: number;
      readonly high?: number;
    }
  | { readonly kind: 'common'; readonly nodes: readonly number[] }
  /** The smooth background of an image. */
  | { readonly kind: 'gradient'; readonly nodes: readonly [number]; readonly params: GradientParams }
  /** Gains that make stars white, or as the catalogue has them where the image lies on the sky. */
  | { readonly kind: 'white'; readonly nodes: readonly [number]; readonly wcs?: Wcs }
  /** How wide the stars of an image are. */
  | { readonly kind: 'seeing'; readonly nodes: readonly [number] }
  /** How much of the second, broadband image the first, a line image, holds. */
  | { readonly kind: 'continuum'; readonly nodes: readonly [number, number]; readonly method: ContinuumMethod }
  /** The stars of an image, to be looked at. */
  | { readonly kind: 'stars'; readonly nodes: readonly [number] }
  /** Median and mean of the whole. */
  | { readonly kind: 'middle'; readonly nodes: readonly [number] }
  /** How the first image lies on the second. */
  | { readonly kind: 'align'; readonly nodes: readonly [number, number]; readonly model: AlignModel }
  /** How often each brightness occurs; `stretched` images are counted from 0 to 1, others where almost all of their pixels lie. */
  | { readonly kind: 'counts'; readonly nodes: readonly [number]; readonly stretched: boolean };

/** Two middles of one plane, no data left out. */
export interface Middle {
  readonly median: number;
  readonly mean: number;
}

/** The stars of an image as marks on it: the brightest of them, and how many there are in all. */
export interface StarList {
  /** x and y in full-size pixels, full width at half maximum, 1 where saturated. */
  readonly stars: readonly (readonly [number, number, number, 0 | 1])[];
  readonly count: number;
}

/** Pairs of pixels for a scatter plot: target, reference, and whether the fit kept the pixel. */
export type ScatterSample = readonly (readonly [number, number, 0 | 1])[];

/** A figure once measured; plain JSON, so that it can be kept and sent. */
export type Figure =
  | { readonly kind: 'tone'; readonly planes: readonly PlaneTone[] }
  | { readonly kind: 'fit'; readonly planes: readonly LinearFit[]; readonly sample: ScatterSample }
  | { readonly kind: 'common'; readonly rect: Rect }
  | ({ readonly kind: 'gradient' } & Gradient)
  | ({ readonly kind: 'white' } & White)
  | { readonly kind: 'seeing'; readonly planes: readonly Seeing[] }
  | ({ readonly kind: 'continuum' } & Continuum)
  | { readonly kind: 'middle'; readonly planes: readonly Middle[] }
  | ({ readonly kind: 'stars' } & StarList)
  | ({ readonly kind: 'align' } & Alignment)
  | { readonly kind: 'counts'; readonly planes: readonly Counts[] };

/** Kinds of figures that are measured on the image's own place, not on the frame. */
export const OWN_PLACE: ReadonlySet<FigureSpec['kind']> = new Set(['align', 'gradient']);

/** Raised whenever a measurement begins to give other numbers. */
export const FIGURE_VERSIONS: Record<FigureSpec['kind'], number> = {
  tone: 1,
  fit: 1,
  common: 1,
  counts: 1,
  align: 2,
  middle: 1,
  seeing: 2,
  continuum: 3,
  gradient: 2,
  white: 2,
  stars: 1,
};

/** The figure as a tone. A wrong kind is a fault in the graph, not in the data. */
export function asTone(figure: Figure | undefined): readonly PlaneTone[] {
  if (figure?.kind !== 'tone') throw new Error('a tone figure is missing');
  return figure.planes;
}

/** The figure as the seeing of each plane. */
export function asSeeing(figure: Figure | undefined): readonly Seeing[] {
  if (figure?.kind !== 'seeing') throw new Error('the seeing is missing');
  return figure.planes;
}

/** The figure as a continuum. */
export function asContinuum(figure: Figure | undefined): Continuum {
  if (figure?.kind !== 'continuum') throw new Error('a continuum is missing');
  return figure;
}

/** The figure as a gradient. */
export function asGradient(figure: Figure | undefined): Gradient {
  if (figure?.kind !== 'gradient') throw new Error('a gradient is missing');
  return figure;
}

/** The figure as gains. */
export function asWhite(figure: Figure | undefined): White {
  if (figure?.kind !== 'white') throw new Error('the gains are missing');
  return figure;
}

/** The figure as medians and means. */
export function asMiddle(figure: Figure | undefined): readonly Middle[] {
  if (figure?.kind !== 'middle') throw new Error('medians and means are missing');
  return figure.planes;
}

/** The figure as an alignment. */
export function asAlignment(figure: Figure | undefined): Alignment {
  if (figure?.kind !== 'align') throw new Error('an alignment is missing');
  return figure;
}

/** The figure as a linear fit. */
export function asFit(figure: Figure | undefined): readonly LinearFit[] {
  if (figure?.kind !== 'fit') throw new Error('a linear fit is missing');
  return figure.planes;
}
