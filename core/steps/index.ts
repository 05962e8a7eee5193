import type { StepKind } from '../engine/step-kind';
import { align } from './align';
import { blur } from './blur';
import { calibrate } from './calibrate';
import { continuum } from './continuum';
import { crop } from './crop';
import { denoise } from './denoise';
import { gradient } from './gradient';
import { levelSky } from './level-sky';
import { levels } from './levels';
import { linearFitStep } from './linear-fit';
import { matchSeeing } from './match-seeing';
import { place } from './place';
import { scale } from './scale';
import { split } from './split';
import { stretch } from './stretch';
import { structures } from './structures';
import { tint } from './tint';
import { unmix } from './unmix';

/** Every step kind that works, by its name. Adding one is adding it here. */
export const STEP_KINDS: ReadonlyMap<string, StepKind> = new Map(
  [
    align,
    blur,
    calibrate,
    continuum,
    crop,
    denoise,
    gradient,
    levelSky,
    levels,
    linearFitStep,
    matchSeeing,
    place,
    scale,
    split,
    stretch,
    structures,
    tint,
    unmix,
  ].map((kind) => [kind.do, kind]),
);
