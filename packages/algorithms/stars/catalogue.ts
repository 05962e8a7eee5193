import { csvParseRows } from 'd3-dsv';
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

// By rows: parsing by columns builds code from text, which the page's security policy forbids.
export const CATALOGUE: readonly CatalogueStar[] = csvParseRows(csv)
  .slice(1)
  .map((row) => {
    const [ra, dec, red, green, blue] = row.map(Number);
    return { ra, dec, red, green, blue };
  });
