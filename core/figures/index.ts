import { type AlignFigure, type AlignSpec, align } from './align';
import { type ChromaNoiseFigure, type ChromaNoiseSpec, chromaNoise } from './chroma-noise';
import { type CommonFigure, type CommonSpec, common } from './common';
import { type ContinuumFigure, type ContinuumSpec, continuum } from './continuum';
import { type CountsFigure, type CountsSpec, counts } from './counts';
import { type EndsFigure, type EndsSpec, ends } from './ends';
import { type FitFigure, type FitSpec, fit } from './fit';
import { type GradientFigure, type GradientSpec, gradient } from './gradient';
import type { FigureKind } from './kind';
import { type MarksFigure, type MarksSpec, marks } from './marks';
import { type MiddleFigure, type MiddleSpec, middle } from './middle';
import { type RemainsFigure, type RemainsSpec, remains } from './remains';
import { type SeeingFigure, type SeeingSpec, seeing } from './seeing';
import { type SkyLevelsFigure, type SkyLevelsSpec, skyLevels } from './sky-levels';
import { type StarlessFigure, type StarlessSpec, starless } from './starless';
import { type StarsFigure, type StarsSpec, stars } from './stars';
import { type ToneFigure, type ToneSpec, tone } from './tone';
import { type TopsFigure, type TopsSpec, tops } from './tops';
import { type WhiteFigure, type WhiteSpec, white } from './white';

/** A figure wanted from whole images at full size. `nodes` are numbers of the graph's nodes. */
export type FigureSpec =
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

/** A figure once measured; plain JSON, so that it can be kept and sent. */
export type Figure =
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
  | ToneFigure
  | TopsFigure
  | WhiteFigure;

/** Every kind of figure, by its name. Adding one is adding it here and to the two types above. */
export const FIGURE_KINDS: Readonly<Record<FigureSpec['kind'], FigureKind>> = {
  align,
  'chroma-noise': chromaNoise,
  common,
  continuum,
  counts,
  ends,
  fit,
  gradient,
  marks,
  middle,
  remains,
  seeing,
  'sky-levels': skyLevels,
  starless,
  stars,
  tone,
  tops,
  white,
};

/** The figure as one of its kind. A wrong kind is a fault in the graph, not in the data. */
export function figureOf<K extends Figure['kind']>(kind: K, figure: Figure | undefined): Extract<Figure, { kind: K }> {
  if (figure?.kind !== kind) throw new Error(`a figure of the kind ${kind} is missing`);
  return figure as Extract<Figure, { kind: K }>;
}

/** The figure as the tone of each plane, which most steps ask for. */
export const asTone = (figure: Figure | undefined): ToneFigure['planes'] => figureOf('tone', figure).planes;
