import type { Raster } from './raster/raster';

/** Whether numbers still follow the light, or have been through a stretch. `either` is plain colour, which goes with both. */
export type Domain = 'linear' | 'stretched' | 'either';

/** Counts that a kernel makes on its way, such as pixels only partly covered. */
export type Tally = (what: TallyKind, pixels: number) => void;

/** `partly-covered`: some strands of a mix have no data there. `no-answer`: a formula divided by zero or the like, and 0 was taken. */
export type TallyKind = 'partly-covered' | 'no-answer';

/** Pixels in, pixels out. `inputs[i].rect` is what `inputRoi` asked for; for pointwise kernels all rectangles are `out.rect`. */
export type PixelFunction = (inputs: readonly Raster[], out: Raster, tally: Tally) => void;
