import type { DriftSummary, DriftKind } from '@owl-loom/algorithms/colour/drift';
import type { ColourHistogram } from '@owl-loom/algorithms/colour/colour-histogram';
import type { HueRange } from '@owl-loom/algorithms/colour/hue-membership';
import type { NoiseContributions } from '@owl-loom/engine/noise-propagation';
import type { Measurement } from '@owl-loom/engine/measurements/index';
import type { StarMarkers } from '@owl-loom/engine/measurements/star-markers';
import type { RecipeError, RecipeDiagnostic, StackInfo } from '@owl-loom/engine/graph';
import type { Unfinished } from '@owl-loom/engine/measurements/failures';
import type { DataMargins } from '@owl-loom/image/pyramid/data-margins';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { Recipe } from '@owl-loom/recipe/schema';
import type { HistogramBins, PlaneSummary } from '@owl-loom/image/stats/summary';
import type { Domain } from '@owl-loom/image/pixel-function';

/** A stack as the worker fetches it. */
export interface WorkerStack {
  readonly name: string;
  readonly info: StackInfo;
}

/** How numbers become brightness on the screen; never part of the recipe. */
export interface DisplayOptions {
  /** `bright` stretches linear data for the eye; `true` shows the numbers as they are. */
  readonly mode: 'bright' | 'true';
  /** Path whose tone sets the brightening; the shown node's own where left out. */
  readonly anchor?: string;
  /** Path of what is taken off the shown image: what a step changed, its input given. */
  readonly less?: string;
  /** Path of a second image to be held against this one. */
  readonly other?: string;
  /** Whether that path is of the recipe that was given beside the open one. */
  readonly otherIsBeside?: boolean;
  /** Shows what sets the image apart from the other, in place of both. */
  readonly apart?: boolean;
  /** Shows how far colours have moved from the other to the image, in place of both. */
  readonly drift?: DriftView;
  /** Marks pixels cut off at black or white. */
  readonly clipping?: boolean;
  /** A mask that is shown over the image, and how; or, of a colour image, what lies outside a family of hues. */
  readonly veil?: { readonly path: string; readonly as: Veil; readonly family?: HueRange };
  /** A layer or step: what it does not change is veiled. */
  readonly touched?: ChangeRef;
}

/** What of the colours is looked at, and where it does not count: where a mask lets through, in a rectangle of the frame. */
export interface DriftView {
  readonly kind: DriftKind;
  readonly mask?: string;
  readonly within?: Rect;
}

/** A layer, which changes the cloth below it; or a step, and the path of what comes into it. */
export interface ChangeRef {
  readonly path: string;
  readonly before?: string;
}

/** What a mask hides turns grey and dim, or is crossed by stripes. */
export type Veil = 'veil' | 'hatch';

/** What is known of an image in the recipe. */
export interface PathInfo {
  readonly planes: 1 | 3;
  readonly domain: Domain;
}

export type WorkerRequest =
  | {
      readonly type: 'scene';
      readonly recipe: Recipe;
      readonly stacks: readonly WorkerStack[];
      /** Another recipe, whose images may be held against those of the open one. */
      readonly beside?: Recipe;
    }
  | {
      readonly type: 'figures';
      readonly figures: Readonly<Record<string, Measurement>>;
      /** Why others cannot be measured, by key. */
      readonly failed?: Readonly<Record<string, string>>;
    }
  /** What this worker has estimated of measurements that are not known yet; and what another has, which need not be estimated here. */
  | { readonly type: 'guessed' }
  | { readonly type: 'guesses'; readonly guesses: Readonly<Record<string, Measurement>> }
  /** Full-size pixels of an image, ready as a pyramid: they take the place of what would be computed. */
  | { readonly type: 'proof'; readonly hash: string }
  | {
      readonly type: 'draw';
      readonly path: string;
      readonly rect: Rect;
      readonly level: number;
      readonly display: DisplayOptions;
    }
  | { readonly type: 'probe'; readonly x: number; readonly y: number; readonly paths: readonly string[] }
  | { readonly type: 'histogram'; readonly path: string }
  /** Which colours an image has in a rectangle of full-size pixels. */
  | { readonly type: 'colours'; readonly path: string; readonly rect: Rect }
  /** Statistics of a rectangle of full-size pixels in each of the paths. */
  | { readonly type: 'region'; readonly rect: Rect; readonly paths: readonly string[] }
  /** The darkest even place of the images at these paths. */
  | { readonly type: 'quiet'; readonly paths: readonly string[] }
  /** How much of the picture a layer or step changes. */
  | ({ readonly type: 'touched' } & ChangeRef)
  /** Between which values a mask lies. */
  | { readonly type: 'reach'; readonly path: string }
  /** The finished cloth in a rectangle is to stay as it is now; null lets it go. */
  | { readonly type: 'guard'; readonly rect: Rect | null }
  /** How far the guarded place has moved since. */
  | { readonly type: 'guarded' }
  /** Where the colour of a rectangle of the finished cloth comes from. */
  | { readonly type: 'origin'; readonly rect: Rect }
  /** Where what the cloth is made of ends before the frame does. */
  | { readonly type: 'edges' }
  | { readonly type: 'describe' };

export interface RecipeInfo {
  readonly frame: Rect;
  readonly paths: Readonly<Record<string, PathInfo>>;
  /** A name for the pixels of each image. */
  readonly hashes: Readonly<Record<string, string>>;
  /** The images of the recipe beside it. */
  readonly beside: Readonly<Record<string, PathInfo>>;
  /** Why the picture of the recipe beside it cannot be made; null where it can, or there is none. */
  readonly besideFault: string | null;
  readonly warnings: readonly RecipeDiagnostic[];
  readonly faults: readonly RecipeError[];
  /** What could not be measured, and the images that depend on it. */
  readonly unfinished: Unfinished;
}

/** How far two images lie apart. */
export interface ImageDifference {
  /** The greatest difference of a plane, in the images' own numbers. */
  readonly most: number;
  /** Share of the pixels that differ by more than 1/255 in some plane, 0 to 1. */
  readonly share: number;
}

export interface DrawReply {
  readonly bitmap: ImageBitmap;
  /** The image to be held against it, of the same pixels. */
  readonly other: ImageBitmap | null;
  /** How far the two lie apart in what is shown; null unless that was asked for. */
  readonly apart: ImageDifference | null;
  /** How much of what is shown has moved, `most` in full-size pixels; null unless that was asked for. */
  readonly drift: DriftSummary | null;
  /** What the bitmap shows, in the level's pixels. */
  readonly rect: Rect;
  readonly level: number;
  /** Keys of measurements that were only estimated. */
  readonly guessed: readonly string[];
  /** Whether the pixels are those of the proof. */
  readonly proof: boolean;
  readonly milliseconds: number;
}

/** What was measured, by path; and the measurements that have charts or marks on the picture. */
export interface DescribeReply {
  readonly measured: Readonly<Record<string, unknown>>;
  /** Kinds of the steps that anything was measured for, by path: what was measured at a place is of that step alone. */
  readonly kinds: Readonly<Record<string, string>>;
  readonly charts: Readonly<Record<string, Measurement>>;
  /** How the noise of each plane of a linear strand depends on the stacks, by the strand's path, as far as it is known. */
  readonly hangs: Readonly<Record<string, readonly NoiseContributions[]>>;
  readonly tones: Readonly<Record<string, Measurement>>;
  /** Stars of the images whose stars were asked for. */
  readonly stars: Readonly<Record<string, StarMarkers>>;
}

/** Statistics of a rectangle, a plane each, by path. */
export interface RegionReply {
  readonly planes: Readonly<Record<string, readonly PlaneSummary[]>>;
  /** Level that was looked at: 0 unless the rectangle is too large for full size. */
  readonly level: number;
}

/** Where what the cloth is made of ends before the frame does. */
export interface EdgesReply {
  /** In full-size pixels; those that reach every side are left out, and `ends` is null where there is no data at all. */
  readonly parts: readonly { readonly path: string; readonly ends: DataMargins | null }[];
  /** Whether all is as it was measured at full size, and not as a coarse level shows it. */
  readonly exact: boolean;
  /** The rectangle that all of them cover, where the cloth is cut to it. */
  readonly common: Rect | null;
}

/** What a layer or a finishing step adds to the colour of a place, plane by plane, in the cloth's own numbers. */
export interface AttributionRow {
  readonly path: string;
  readonly change: readonly number[];
  /** How much of it the mask lets through here, 0 to 1; null where there is none. */
  readonly mask: number | null;
  /** How a layer's change is shared out among the strands that it reads. */
  readonly strands: readonly { readonly id: string; readonly path: string; readonly share: readonly number[] }[];
}

/** Where the colour of a place comes from: the changes add up to it. */
export interface OriginReply {
  readonly colour: readonly number[];
  /** Level that was looked at: 0 unless the place is too large for full size. */
  readonly level: number;
  readonly rows: readonly AttributionRow[];
}

export interface WorkerReplies {
  scene: RecipeInfo;
  figures: Unfinished;
  guessed: Readonly<Record<string, Measurement>>;
  guesses: null;
  proof: null;
  draw: DrawReply;
  probe: Readonly<Record<string, readonly number[]>>;
  histogram: readonly HistogramBins[];
  colours: ColourHistogram;
  region: RegionReply;
  quiet: Rect | null;
  /** Share of the pixels that have data, 0 to 1; null where there is no picture to tell. */
  touched: number | null;
  /** The least and the greatest value, as far as a coarse level shows them; null where there are none. */
  reach: readonly [number, number] | null;
  edges: EdgesReply;
  guard: null;
  guarded: DriftSummary | null;
  origin: OriginReply | null;
  describe: DescribeReply;
}

export type WorkerMessage = { readonly id: number; readonly request: WorkerRequest };
export type WorkerReply =
  | { readonly id: number; readonly ok: unknown }
  | { readonly id: number; readonly fault: string };
