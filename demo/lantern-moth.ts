import { Clouds, ramp } from './clouds';
import { type Exposure, exposuresOf } from './expose';
import type { Glow } from './emission';
import type { Filter } from './passbands';
import { type DemoStar, starField } from './stars';
import type { DemoTarget } from './target';

const SIZE = { width: 1800, height: 1200 } as const;

const wide = new Clouds(11);
const fine = new Clouds(23);
const lane = new Clouds(37);
const wisps = new Clouds(51);

/** Length of a line of sight through a hollow sphere of radius 1 whose wall begins at `inner`. */
function wall(q: number, inner: number): number {
  if (q >= 1) return 0;
  return Math.sqrt(1 - q * q) - (q < inner ? Math.sqrt(inner * inner - q * q) : 0);
}

/**
 * The Lantern Moth: a bubble blown by one hot star, wide like a moth's wings. Oxygen fills its wall, hydrogen hangs in filaments about it,
 * sulfur lights the fronts where the wall runs into denser gas; a lane of dust crosses below.
 * @param x pixel from the left
 * @param y pixel from the foot
 */
export function lanternMoth(x: number, y: number): Glow {
  const u = (x - 905) / 400;
  const v = (y - 640) / 400;
  const warpX = wide.billow(u * 1.1 + 3, v * 1.1, 4);
  const warpY = wide.billow(u * 1.1 - 5, v * 1.1 + 8, 4);
  const p = u + 0.22 * warpX;
  const s = v + 0.22 * warpY;
  const angle = Math.atan2(s, p) - 0.28;
  const wing = 0.62 + 0.42 * Math.cos(angle) ** 2 - 0.1 * Math.exp(-(((Math.sin(angle) - 0.96) / 0.2) ** 2));
  const q = Math.hypot(p, s) / wing;

  const clump = 0.55 + 0.9 * Math.max(0, 0.5 + fine.billow(u * 3.1, v * 3.1, 5));
  const mesh = fine.ridges(p * 2.3 + 4, s * 2.3, 6);
  const shell = wall(q, 0.86) * clump;
  const second = wall(q * 1.16 - 0.02, 0.93) * (0.4 + mesh);
  const inside = Math.exp(-((q / 0.8) ** 2));
  const oiii =
    0.034 * shell +
    0.02 * second +
    0.0035 * inside * (0.6 + wide.billow(u * 2, v * 2, 3)) +
    0.0025 * ramp(1.5, 0.7, q) * mesh;

  const veil = Math.max(0, 0.42 + wide.billow(u * 0.55 - 2.2, v * 0.55 + 1.7, 6) + 0.16 * v - 0.1 * u);
  const hair = wisps.ridges(u * 1.05 + 0.35 * warpX, v * 1.05 + 0.35 * warpY + 20, 7);
  const rim = Math.exp(-(((q - 1.02) / 0.1) ** 2)) * (0.3 + 1.5 * mesh);
  const outside = ramp(0.86, 1.25, q);
  const ha =
    0.05 * rim +
    0.03 * veil * veil * (0.35 + 1.3 * hair) * (0.3 + 0.7 * outside) +
    0.05 * hair ** 2 * veil * outside +
    0.006 * inside * mesh;

  const front =
    Math.exp(-(((q - 1.075) / 0.045) ** 2)) *
    ramp(0.25, 0.8, mesh * 1.6) *
    (0.4 + 0.9 * ramp(-0.2, 0.6, Math.cos(angle + 0.9)));
  const sii = 0.03 * front + 0.16 * 0.03 * veil * (0.3 + hair) * (0.35 + 0.65 * outside) + 0.008 * hair ** 2 * veil;

  const across = v + 0.62 + 0.22 * u + 0.2 * lane.billow(u * 0.9, v * 0.9, 4);
  const body = Math.exp(-((across / 0.17) ** 2)) * ramp(-0.5, 0.35, lane.billow(u * 1.3 + 7, v * 1.6, 5) + 0.2);
  const threads = lane.ridges(u * 1.6 - 8, v * 1.9 + 3, 5) * Math.exp(-((across / 0.34) ** 2));
  const dust =
    2.1 * body * (0.55 + 0.9 * threads) +
    0.5 * threads +
    0.12 * Math.max(0, lane.billow(u * 0.7, v * 0.7 + 13, 4) + 0.2);

  // The dust's upper edge scatters the bright star's light, bluer than the star.
  const lit = Math.exp(-(((across - 0.17) / 0.13) ** 2)) * Math.exp(-(((u + 0.9) / 0.75) ** 2)) * (0.4 + threads);
  const cirrus = 0.0022 * Math.max(0, 0.3 + lane.billow(u * 0.8 + 3, v * 0.8 - 6, 5));
  return {
    ha,
    oiii,
    sii,
    blue: 0.022 * lit + cirrus * 0.8,
    green: 0.015 * lit + cirrus,
    red: 0.009 * lit + cirrus * 1.1,
    dust,
  };
}

/** The camera's filters for this target. Line filters are exposed long; L, R, G and B briefly, for the stars. */
const FILTERS: readonly Filter[] = [
  { name: 'L', wavelength: 550, width: 260, exposure: 5400, fwhm: 2.5, sky: 0.062, glow: 0.3 },
  { name: 'R', wavelength: 640, width: 90, exposure: 3600, fwhm: 2.6, sky: 0.034, glow: 0.33 },
  { name: 'G', wavelength: 530, width: 90, exposure: 3600, fwhm: 2.7, sky: 0.03, glow: 0.28 },
  { name: 'B', wavelength: 450, width: 90, exposure: 3600, fwhm: 2.9, sky: 0.024, glow: 0.26 },
  { name: 'Ha', wavelength: 656, width: 5, exposure: 18_000, fwhm: 2.5, sky: 0.0082, glow: 0.25 },
  { name: 'OIII', wavelength: 501, width: 5, exposure: 21_600, fwhm: 2.9, sky: 0.0074, glow: 0.5 },
  { name: 'SII', wavelength: 672, width: 5, exposure: 15_120, fwhm: 2.7, sky: 0.0066, glow: 0.3 },
];

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

const ELECTRONS: Record<string, number> = {
  L: 420_000,
  R: 300_000,
  G: 300_000,
  B: 260_000,
  Ha: 95_000,
  OIII: 80_000,
  SII: 70_000,
};
/** Columns and rows without data at left, foot, right and top. */
const RAGGED: Record<string, Exposure['ragged']> = { SII: [0, 0, 9, 5], OIII: [6, 4, 0, 0] };

export const LANTERN_MOTH: DemoTarget = {
  name: 'Lantern Moth',
  folder: 'lantern-moth',
  size: SIZE,
  place: { ra: 297.4, dec: 31.8 },
  camera: 'Tawny mono camera',
  telescope: 'Barn refractor',
  night: '2026-03-14T22:10:00',
  glow: lanternMoth,
  lines: ['ha', 'oiii', 'sii'],
  stars: (): DemoStar[] => [...NAMED, ...starField(77, SIZE.width, SIZE.height, 5200, 0.02)],
  stacks: exposuresOf({
    filters: FILTERS,
    gradients: GRADIENTS,
    electrons: ELECTRONS,
    ragged: RAGGED,
    readNoise: [0.00012, 0.00016],
    seeds: [1000, 17],
  }).map((exposure) => ({ label: exposure.filter.name, filter: exposure.filter.name, exposures: [exposure] })),
};
