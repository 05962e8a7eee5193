import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { encodeFits } from '../core/fits/write';
import { writeWhole } from '../server/io/write';
import { type Exposure, expose, meanLight, sampleMaps, starShare } from './expose';
import { FILTERS, SIZE, lanternMoth } from './lantern-moth';
import { skyCards } from './place';
import { type DemoStar, fluxAt, starField } from './stars';

/** Bright stars that were put where they are for the picture's sake, two of them beyond a full well. */
const NAMED: readonly DemoStar[] = [
  { x: 905, y: 640, temperature: 24_000, flux: 7 },
  { x: 421, y: 452, temperature: 14_500, flux: 46 },
  { x: 1484, y: 905, temperature: 3700, flux: 34 },
  { x: 1310, y: 232, temperature: 4600, flux: 11 },
  { x: 236, y: 1012, temperature: 8800, flux: 8 },
];

const GRADIENTS: Record<string, Exposure['gradient']> = {
  L: { gx: 0.5, gy: -0.7, bend: 0.12 },
  R: { gx: 0.42, gy: -0.8, bend: 0.1 },
  G: { gx: 0.55, gy: -0.62, bend: 0.12 },
  B: { gx: 0.6, gy: -0.45, bend: 0.15 },
  Ha: { gx: 0.35, gy: -0.6, bend: 0.1 },
  OIII: { gx: -0.55, gy: -0.6, bend: 0.2 },
  SII: { gx: 0.3, gy: -0.7, bend: 0.05 },
};

const ELECTRONS: Record<string, number> = { L: 420_000, R: 300_000, G: 300_000, B: 260_000, Ha: 95_000, OIII: 80_000, SII: 70_000 };
const RAGGED: Record<string, Exposure['ragged']> = { SII: [0, 0, 9, 5], OIII: [6, 4, 0, 0] };

/** The exposures of the Lantern Moth, one a filter. */
export const exposures = (): Exposure[] =>
  FILTERS.map((filter, i) => ({
    filter,
    gradient: GRADIENTS[filter.name],
    electrons: ELECTRONS[filter.name],
    readNoise: filter.width > 20 ? 0.00012 : 0.00016,
    ragged: RAGGED[filter.name] ?? [0, 0, 0, 0],
    seed: 1000 + 17 * i,
  }));

/** The stars of the Lantern Moth's field. */
export const mothStars = (): DemoStar[] => [...NAMED, ...starField(77, SIZE.width, SIZE.height, 5200, 0.02)];

function cards(exposure: Exposure) {
  const { filter } = exposure;
  return [
    { key: 'OBJECT', value: 'Lantern Moth', comment: 'an invented target' },
    { key: 'FILTER', value: filter.name },
    { key: 'EXPTIME', value: filter.exposure, comment: 'seconds, all together' },
    { key: 'INSTRUME', value: 'Tawny mono camera' },
    { key: 'TELESCOP', value: 'Barn refractor' },
    { key: 'DATE-OBS', value: '2026-03-14T22:10:00' },
    ...skyCards(SIZE),
  ];
}

/**
 * Writes the Lantern Moth: seven stacks as FITS, and under `truth/` the clean maps, the stars and every number that made them.
 * The same folder comes out byte for byte each time.
 * @returns the stacks' files by filter
 */
export async function makeLanternMoth(dir: string, log: (line: string) => void): Promise<Map<string, string>> {
  const { width, height } = SIZE;
  const truth = join(dir, 'truth');
  await mkdir(truth, { recursive: true });
  const maps = sampleMaps(width, height, lanternMoth);
  const stars = mothStars();
  const files = new Map<string, string>();
  for (const exposure of exposures()) {
    const { filter } = exposure;
    const light = meanLight(maps, stars, exposure);
    const path = join(dir, `lantern-moth_${filter.name}.fits`);
    await writeWhole(path, encodeFits({ width, height, planes: [expose(light, width, height, exposure)], own: cards(exposure), history: ['Made by the Owl Loom sky maker; no real sky.'] }));
    files.set(filter.name, path);
    log(`Lantern Moth, ${filter.name}`);
  }
  for (const key of ['ha', 'oiii', 'sii', 'dust'] as const) {
    await writeWhole(join(truth, `${key}.fits`), encodeFits({ width, height, planes: [maps[key]], own: [{ key: 'OBJECT', value: `Lantern Moth, true ${key}` }] }));
  }
  await writeWhole(join(truth, 'truth.json'), [Buffer.from(`${JSON.stringify(truthOf(stars), null, 1)}\n`)]);
  return files;
}

function truthOf(stars: readonly DemoStar[]) {
  const list = exposures();
  const share = (name: string) => {
    const found = list.find((e) => e.filter.name === name);
    if (!found) throw new Error(`no filter ${name}`);
    return starShare(found.filter);
  };
  return {
    target: 'Lantern Moth',
    size: SIZE,
    // For sunlike stars, whose colour is white by construction; the ratio shifts a little with temperature.
    continuum: [
      { line: 'Ha', broad: 'R', k: share('Ha') / share('R') },
      { line: 'SII', broad: 'R', k: share('SII') / share('R') },
      { line: 'OIII', broad: 'G', k: share('OIII') / share('G') },
    ],
    stacks: list.map((e) => ({ ...e, transform: [[1, 0, 0], [0, 1, 0]] })),
    stars: stars.map((star) => ({
      x: star.x,
      y: star.y,
      temperature: star.temperature,
      flux: Object.fromEntries(list.map((e) => [e.filter.name, fluxAt(star, e.filter.wavelength) * starShare(e.filter)])),
    })),
  };
}
