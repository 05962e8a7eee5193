import { MEASUREMENT_KINDS, type Measurement, type MeasurementSpec } from './index';
import type { Raster } from '@owl-loom/image/raster/raster';

/**
 * Takes a measurement from whole images and the measurements that it stands on.
 * @param images one for each node that its kind looks at, in that order
 * @param on the measurements that its kind stands on, in that order
 * @param level 0 gives the measurement; a higher level gives an estimate of it
 * @throws UserError where the images do not allow it
 */
export const runMeasurement = (
  spec: MeasurementSpec,
  images: readonly Raster[],
  on: readonly Measurement[] = [],
  level = 0,
): Measurement => MEASUREMENT_KINDS[spec.kind].measure({ spec, images, on, level });
