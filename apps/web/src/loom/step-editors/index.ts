import { AlignEditor } from './align';
import { BalanceEditor } from './balance';
import { BlurEditor } from './blur';
import { CalibrateEditor } from './calibrate';
import { CapEditor } from './cap';
import { ContinuumEditor } from './continuum';
import { CropEditor } from './crop';
import { CurvesEditor } from './curves';
import { DeconvolveEditor } from './deconvolve';
import { DenoiseEditor } from './denoise';
import type { StepEditor } from '../fields/step-editor';
import { FloorEditor } from './floor';
import { GradientEditor } from './gradient';
import { GrowEditor } from './grow';
import { HueBandsEditor } from './hue-bands';
import { InvertEditor } from './invert';
import { LevelSkyEditor } from './level-sky';
import { LevelsEditor } from './levels';
import { LinearFitEditor } from './linear-fit';
import { MatchSeeingEditor } from './match-seeing';
import { PlaceEditor } from './place';
import { RangeEditor } from './range';
import { MendEditor } from './mend';
import { SaturationEditor } from './saturation';
import { ScaleEditor } from './scale';
import { SharpenEditor } from './sharpen';
import { SplitEditor } from './split';
import { StarShrinkEditor } from './star-shrink';
import { StarTopsEditor } from './star-tops';
import { StarlessEditor } from './starless';
import { StarsOnlyEditor } from './stars-only';
import { StretchEditor } from './stretch';
import { StructuresEditor } from './structures';
import { TintEditor } from './tint';
import { UnmixEditor } from './unmix';

const editors = {
  align: AlignEditor,
  balance: BalanceEditor,
  blur: BlurEditor,
  calibrate: CalibrateEditor,
  cap: CapEditor,
  continuum: ContinuumEditor,
  crop: CropEditor,
  curves: CurvesEditor,
  deconvolve: DeconvolveEditor,
  denoise: DenoiseEditor,
  floor: FloorEditor,
  gradient: GradientEditor,
  grow: GrowEditor,
  'hue-bands': HueBandsEditor,
  invert: InvertEditor,
  'level-sky': LevelSkyEditor,
  levels: LevelsEditor,
  'linear-fit': LinearFitEditor,
  'match-seeing': MatchSeeingEditor,
  mend: MendEditor,
  place: PlaceEditor,
  range: RangeEditor,
  saturation: SaturationEditor,
  scale: ScaleEditor,
  sharpen: SharpenEditor,
  split: SplitEditor,
  'star-shrink': StarShrinkEditor,
  'star-tops': StarTopsEditor,
  starless: StarlessEditor,
  'stars-only': StarsOnlyEditor,
  stretch: StretchEditor,
  structures: StructuresEditor,
  tint: TintEditor,
  unmix: UnmixEditor,
};

/** The editor of each step kind, which is given the parameters of its own; a test holds this list to the kinds. */
export const EDITORS = editors as unknown as Readonly<Partial<Record<string, StepEditor>>>;
