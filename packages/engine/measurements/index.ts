import { type AlignFigure, type AlignSpec, align } from './align';
import { type ChromaNoiseFigure, type ChromaNoiseSpec, chromaNoise } from './chroma-noise';
import { type CommonFigure, type CommonSpec, commonAreaKind } from './common-area';
import { type ContinuumFigure, type ContinuumSpec, continuum } from './continuum';
import { type CountsFigure, type CountsSpec, histogramKind } from './histogram';
import { type EndsFigure, type EndsSpec, marginsKind } from './margins';
import { type FitFigure, type FitSpec, linearFitKind } from './linear-fit';
import { type GradientFigure, type GradientSpec, gradient } from './gradient';
import type { MeasurementKind } from './kind';
import { type MarksFigure, type MarksSpec, starMarkersKind } from './star-markers';
import { type MiddleFigure, type MiddleSpec, meanMedianKind } from './mean-median';
import { type RemainsFigure, type RemainsSpec, residualStarsKind } from './residual-stars';
import { type SeeingFigure, type SeeingSpec, seeing } from './seeing';
import { type SkyLevelsFigure, type SkyLevelsSpec, skyLevels } from './sky-levels';
import { type StarlessFigure, type StarlessSpec, starRemovalKind } from './star-removal';
import { type StarsFigure, type StarsSpec, stars } from './stars';
import { type Background, type ToneSpec, backgroundKind } from './background';
import { type TopsFigure, type TopsSpec, clippedStarsKind } from './clipped-stars';
import { type WhiteFigure, type WhiteSpec, whiteBalanceKind } from './white-balance';

/** A measurement wanted from whole images at full size. `nodes` are numbers of the graph's nodes. */
export type MeasurementSpec =
  | AlignSpec
  | ChromaNoiseSpec
  | CommonSpec
  | ContinuumSpec
  | CountsSpec
  | EndsSpec
  | FitSpec
  | GradientSpec
  | MarksSpec
  | MiddleSpec
  | RemainsSpec
  | SeeingSpec
  | SkyLevelsSpec
  | StarlessSpec
  | StarsSpec
  | ToneSpec
  | TopsSpec
  | WhiteSpec;

/** A measurement once measured; plain JSON, so that it can be kept and sent. */
export type Measurement =
  | AlignFigure
  | ChromaNoiseFigure
  | CommonFigure
  | ContinuumFigure
  | CountsFigure
  | EndsFigure
  | FitFigure
  | GradientFigure
  | MarksFigure
  | MiddleFigure
  | RemainsFigure
  | SeeingFigure
  | SkyLevelsFigure
  | StarlessFigure
  | StarsFigure
  | Background
  | TopsFigure
  | WhiteFigure;

/** Every kind of measurement, by its name. Adding one is adding it here and to the two types above. */
export const MEASUREMENT_KINDS: Readonly<Record<MeasurementSpec['kind'], MeasurementKind>> = {
  align,
  'chroma-noise': chromaNoise,
  common: commonAreaKind,
  continuum,
  counts: histogramKind,
  ends: marginsKind,
  fit: linearFitKind,
  gradient,
  marks: starMarkersKind,
  middle: meanMedianKind,
  remains: residualStarsKind,
  seeing,
  'sky-levels': skyLevels,
  starless: starRemovalKind,
  stars,
  tone: backgroundKind,
  tops: clippedStarsKind,
  white: whiteBalanceKind,
};

/** The measurement as one of its kind. A wrong kind is a fault in the graph, not in the data. */
export function expectKind<K extends Measurement['kind']>(
  kind: K,
  figure: Measurement | undefined,
): Extract<Measurement, { kind: K }> {
  if (figure?.kind !== kind) throw new Error(`a figure of the kind ${kind} is missing`);
  return figure as Extract<Measurement, { kind: K }>;
}

/** The measurement as the tone of each plane, which most steps ask for. */
export const expectBackground = (figure: Measurement | undefined): Background['planes'] =>
  expectKind('tone', figure).planes;
