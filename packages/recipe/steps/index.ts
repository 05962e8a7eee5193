import type { StepSpec } from './step-spec';
import { align } from './align';
import { balance } from './balance';
import { blur } from './blur';
import { calibrate } from './calibrate';
import { cap } from './cap';
import { continuum } from './continuum';
import { crop } from './crop';
import { curves } from './curves';
import { deconvolve } from './deconvolve';
import { denoise } from './denoise';
import { floor } from './floor';
import { gradient } from './gradient';
import { grow } from './grow';
import { hueBands } from './hue-bands';
import { invert } from './invert';
import { levelSky } from './level-sky';
import { levels } from './levels';
import { linearFitStep } from './linear-fit';
import { matchSeeing } from './match-seeing';
import { mend } from './mend';
import { place } from './place';
import { range } from './range';
import { saturation } from './saturation';
import { scale } from './scale';
import { sharpen } from './sharpen';
import { split } from './split';
import { starShrink } from './star-shrink';
import { starless } from './starless';
import { starTops } from './star-tops';
import { starsOnly } from './stars-only';
import { stretch } from './stretch';
import { structures } from './structures';
import { tint } from './tint';
import { unmix } from './unmix';

/** Every kind of step by its name, in the order in which people come to use them. Adding one is adding it here, and its work to the engine. */
export const STEP_SPECS: ReadonlyMap<string, StepSpec> = new Map(
  [
    align,
    gradient,
    continuum,
    calibrate,
    unmix,
    deconvolve,
    denoise,
    starless,
    starsOnly,
    starTops,
    starShrink,
    mend,
    matchSeeing,
    linearFitStep,
    levelSky,
    scale,
    crop,
    place,
    blur,
    sharpen,
    structures,
    split,
    stretch,
    levels,
    curves,
    floor,
    hueBands,
    saturation,
    balance,
    cap,
    tint,
    range,
    grow,
    invert,
  ].map((kind) => [kind.do, kind]),
);

/** Whether steps of a kind only move the image. */
export const isMoveStep = (kind: string): boolean => STEP_SPECS.get(kind)?.moves === true;
