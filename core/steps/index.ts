import type { StepKind } from './kind';
import { align } from './align';
import { crop } from './crop';
import { levelSky } from './level-sky';
import { levels } from './levels';
import { linearFitStep } from './linear-fit';
import { place } from './place';
import { scale } from './scale';
import { stretch } from './stretch';
import { tint } from './tint';

/** Every step kind that works, by its name. Adding one is adding it here. */
export const STEP_KINDS: ReadonlyMap<string, StepKind> = new Map(
  [align, crop, levelSky, levels, linearFitStep, place, scale, stretch, tint].map((kind) => [kind.do, kind]),
);
