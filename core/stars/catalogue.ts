import { csvParse } from 'd3-dsv';
import csv from './catalogue.csv?raw';

/** A star of the shipped catalogue, the stand-in for one online: it covers the demo's own skies. */
export interface CatalogueStar {
  /** Degrees. */
  readonly ra: number;
  readonly dec: number;
  /** Magnitudes; a white star has the same in all three. */
  readonly red: number;
  readonly green: number;
  readonly blue: number;
}

export const CATALOGUE: readonly CatalogueStar[] = csvParse(csv, ({ ra, dec, red, green, blue }) => ({
  ra: Number(ra),
  dec: Number(dec),
  red: Number(red),
  green: Number(green),
  blue: Number(blue),
}));
