import type { ContinuumInput } from '@owl-loom/algorithms/continuum/input';
import { detectStarField } from '@owl-loom/algorithms/stars/field';
import { planeNoise } from '@owl-loom/image/stats/noise';
import { skyLevel } from '@owl-loom/image/stats/sky';

/** A line image and a broadband one with the stars that can be found in them. */
export const withStars = (of: Pick<ContinuumInput, 'line' | 'broad' | 'width' | 'height'>): ContinuumInput => ({
  ...of,
  lineStars: detectStarField(of.line, of.width, of.height),
  broadStars: detectStarField(of.broad, of.width, of.height),
  lineSky: skyLevel(of.line).sky,
  broadSky: skyLevel(of.broad).sky,
  lineNoise: planeNoise(of.line, of.width, of.height),
  broadNoise: planeNoise(of.broad, of.width, of.height),
});
