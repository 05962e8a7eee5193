import { CATALOGUE_CSV } from './catalogue-csv';

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

export const CATALOGUE: readonly CatalogueStar[] = CATALOGUE_CSV.trim()
  .split('\n')
  .slice(1)
  .map((line) => {
    const [ra, dec, red, green, blue] = line.split(',').map(Number);
    return { ra, dec, red, green, blue };
  });
