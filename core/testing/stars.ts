import type { ContinuumInput } from '../continuum/input';
import { starField } from '../stars/field';

/** A line image and a broadband one with the stars that can be found in them. */
export const withStars = (of: Omit<ContinuumInput, 'lineStars' | 'broadStars'>): ContinuumInput => ({
  ...of,
  lineStars: starField(of.line, of.width, of.height),
  broadStars: starField(of.broad, of.width, of.height),
});
