import type { ContinuumInput } from '../continuum/input';
import { starField } from '../stars/field';
import { noiseOf } from '../stats/noise';
import { skyOf } from '../stats/sky';

/** A line image and a broadband one with the stars that can be found in them. */
export const withStars = (of: Pick<ContinuumInput, 'line' | 'broad' | 'width' | 'height'>): ContinuumInput => ({
  ...of,
  lineStars: starField(of.line, of.width, of.height),
  broadStars: starField(of.broad, of.width, of.height),
  lineSky: skyOf(of.line).sky,
  broadSky: skyOf(of.broad).sky,
  lineNoise: noiseOf(of.line, of.width, of.height),
  broadNoise: noiseOf(of.broad, of.width, of.height),
});
