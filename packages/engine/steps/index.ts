import type { StepKind } from './step-implementation';
import { alignStep } from './align';
import { balanceStep } from './balance';
import { blurStep } from './blur';
import { calibrateStep } from './calibrate';
import { capStep } from './cap';
import { continuumStep } from './continuum';
import { cropStep } from './crop';
import { curvesStep } from './curves';
import { deconvolveStep } from './deconvolve';
import { denoiseStep } from './denoise';
import { floorStep } from './floor';
import { gradientStep } from './gradient';
import { growStep } from './grow';
import { hueBandsStep } from './hue-bands';
import { invertStep } from './invert';
import { levelSkyStep } from './level-sky';
import { levelsStep } from './levels';
import { linearFitStep } from './linear-fit';
import { matchSeeingStep } from './match-seeing';
import { mendStep } from './mend';
import { placeStep } from './place';
import { rangeStep } from './range';
import { saturationStep } from './saturation';
import { scaleStep } from './scale';
import { sharpenStep } from './sharpen';
import { splitStep } from './split';
import { starShrinkStep } from './star-shrink';
import { starlessStep } from './starless';
import { starTopsStep } from './star-tops';
import { starsOnlyStep } from './stars-only';
import { stretchStep } from './stretch';
import { structuresStep } from './structures';
import { tintStep } from './tint';
import { unmixStep } from './unmix';

/** What every kind of step does, by its name. Adding one is adding it here. */
export const STEP_KINDS: ReadonlyMap<string, StepKind> = new Map(
  [
    alignStep,
    gradientStep,
    continuumStep,
    calibrateStep,
    unmixStep,
    deconvolveStep,
    denoiseStep,
    starlessStep,
    starsOnlyStep,
    starTopsStep,
    starShrinkStep,
    mendStep,
    matchSeeingStep,
    linearFitStep,
    levelSkyStep,
    scaleStep,
    cropStep,
    placeStep,
    blurStep,
    sharpenStep,
    structuresStep,
    splitStep,
    stretchStep,
    levelsStep,
    curvesStep,
    floorStep,
    hueBandsStep,
    saturationStep,
    balanceStep,
    capStep,
    tintStep,
    rangeStep,
    growStep,
    invertStep,
  ].map((kind) => [kind.do, kind]),
);
