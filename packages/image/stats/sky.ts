import { planeStatistics } from './plane-statistics';
import type { Sky } from './sorted';

/**
 * The sky: the sigma-clipped median. Pixels further than 3 σ from the median are left out, σ being 1.4826 × MAD, until none is.
 * @param values NaN is left out
 * @returns NaN and 0 pixels where nothing counts
 */
export const skyLevel = (values: Float32Array): Sky => planeStatistics(values).sky;
