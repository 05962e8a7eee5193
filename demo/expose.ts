import { addStar, type DemoStar, fluxAt } from './stars';
import { type Filter, dimming } from './passbands';
import type { Glow } from './emission';
import { Random } from './random';

/** Light that falls on each pixel before any camera: lines and scattered light in full wells through their own filter. */
export interface Maps {
  readonly width: number;
  readonly height: number;
  readonly ha: Float32Array;
  readonly oiii: Float32Array;
  readonly sii: Float32Array;
  readonly blue: Float32Array;
  readonly green: Float32Array;
  readonly red: Float32Array;
  readonly dust: Float32Array;
}

/** Samples a glow on a pixel grid. */
export function sampleMaps(width: number, height: number, glow: (x: number, y: number) => Glow): Maps {
  const make = () => new Float32Array(width * height);
  const maps: Maps = {
    width,
    height,
    ha: make(),
    oiii: make(),
    sii: make(),
    blue: make(),
    green: make(),
    red: make(),
    dust: make(),
  };
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const here = glow(x, y);
      const i = y * width + x;
      for (const key of ['ha', 'oiii', 'sii', 'blue', 'green', 'red', 'dust'] as const) maps[key][i] = here[key];
    }
  }
  return maps;
}

/** A light-pollution gradient: `sky · (1 + glow · (gx·u + gy·v + bend·(u² + v²)))`, u and v from −1 to 1 across the frame. */
export interface Gradient {
  readonly gx: number;
  readonly gy: number;
  readonly bend: number;
}

/** A window of a filter that has more than one, as one channel of a colour camera sees it. */
export interface Pass {
  readonly wavelength: number;
  readonly width: number;
  /** Share of the light that this channel gets. */
  readonly response: number;
}

/** How a stack came about, as it stands in the truth. */
export interface Exposure {
  readonly filter: Filter;
  /** The filter's windows; one, its own, where nothing is said. */
  readonly passes?: readonly Pass[];
  readonly gradient: Gradient;
  /** Electrons in a full well of the whole stack: the photon noise of a value v is √(v / electrons). */
  readonly electrons: number;
  /** Read noise of the whole stack, in full wells. */
  readonly readNoise: number;
  /** Columns and rows without data at left, foot, right and top, as registration leaves them. */
  readonly ragged: readonly [number, number, number, number];
  readonly seed: number;
}

/** How far beyond its width a filter still passes all, and how far a broad one passes any, in nanometres. */
const SHARP = 4;
const SOFT = 16;

/** Share of a line's own light that a filter passes, relative to the line filter. */
function lineShare(filter: Filter, line: 'ha' | 'oiii' | 'sii'): number {
  const at = { ha: 656, oiii: 501, sii: 672 }[line];
  const beyond = Math.abs(at - filter.wavelength) - filter.width / 2;
  if (filter.width <= 20) return beyond <= SHARP ? 1 : 0;
  // Filters of a set overlap: blue and green both see the oxygen lines, which is why an oxygen shell is teal by daylight.
  const passes = Math.min(1, Math.max(0, (SOFT - beyond) / (SOFT - SHARP)));
  // Short broadband exposures see the line with the light of fewer seconds.
  return passes * 0.42 * Math.min(1, filter.exposure / 7200);
}

/** Starlight through a filter per unit of flux: wide filters take all of it, line filters what their width and exposure give. */
export const starShare = (filter: Filter): number =>
  (filter.width / 90) * (filter.exposure / 3600) * (filter.width > 200 ? 0.55 : 1);

function scattered(maps: Maps, filter: Filter, i: number): number {
  const { blue, green, red } = maps;
  if (filter.width > 200) return 0.8 * (blue[i] + green[i] + red[i]);
  const own = filter.wavelength < 490 ? blue[i] : filter.wavelength < 590 ? green[i] : red[i];
  return own * starShare(filter);
}

/** The stack's mean light: sky with its gradient, gas, scattered light and stars, all behind the dust but the sky. */
export function meanLight(maps: Maps, stars: readonly DemoStar[], exposure: Exposure): Float64Array {
  const { width, height } = maps;
  const { filter, gradient } = exposure;
  const out = new Float64Array(width * height);
  const passes = (exposure.passes ?? [{ ...filter, response: 1 }]).map((pass) => ({ ...filter, ...pass }));
  for (const star of stars) {
    const x = Math.min(width - 1, Math.max(0, Math.round(star.x)));
    const y = Math.min(height - 1, Math.max(0, Math.round(star.y)));
    const flux = passes.reduce((sum, pass) => sum + pass.response * starFlux(star, pass, maps.dust[y * width + x]), 0);
    addStar(out, width, height, star.x, star.y, flux, filter.fwhm, Math.sqrt(filter.sky / exposure.electrons));
  }
  for (const pass of passes) addGas(out, maps, pass, pass.response);
  for (let y = 0; y < height; y++) {
    const v = (2 * y) / (height - 1) - 1;
    for (let x = 0; x < width; x++) {
      const u = (2 * x) / (width - 1) - 1;
      out[y * width + x] +=
        filter.sky * (1 + filter.glow * (gradient.gx * u + gradient.gy * v + gradient.bend * (u * u + v * v)));
    }
  }
  return out;
}

/** A star's light through a filter behind dust of a depth. A third of the stars lies before the dust; brightness tells which, since near stars are bright. */
export const starFlux = (star: DemoStar, filter: Filter, depth: number): number =>
  fluxAt(star, filter.wavelength) *
  starShare(filter) *
  Math.exp(-(star.flux > 4 ? 0 : depth) * dimming(filter.wavelength));

/** Adds gas and scattered light through a filter. */
function addGas(out: Float64Array, maps: Maps, filter: Filter, response: number): void {
  const dim = dimming(filter.wavelength);
  const [ha, oiii, sii] = (['ha', 'oiii', 'sii'] as const).map((line) => lineShare(filter, line));
  for (let i = 0; i < out.length; i++) {
    const gas = ha * maps.ha[i] + oiii * maps.oiii[i] + sii * maps.sii[i];
    // Half of the gas lies before the dust.
    const veiled = 0.35 + 0.65 * Math.exp(-maps.dust[i] * dim);
    out[i] += response * (gas + scattered(maps, filter, i)) * veiled;
  }
}

/** One exposure of the mean light: photon and read noise, a full well at 1, no data at the ragged edges. */
export function expose(light: Float64Array, width: number, height: number, exposure: Exposure): Float32Array {
  const random = new Random(exposure.seed);
  const [left, bottom, right, top] = exposure.ragged;
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const well = Math.min(1, light[i]);
      const sigma = Math.sqrt(well / exposure.electrons + exposure.readNoise ** 2);
      const value = Math.min(1, well + sigma * random.normal());
      const there = x >= left && x < width - right && y >= bottom && y < height - top;
      out[i] = there ? value : Number.NaN;
    }
  }
  return out;
}

/** What a night's exposures through several filters share, and what each has of its own, by the filter's name. */
export interface Night {
  readonly filters: readonly Filter[];
  readonly gradients: Readonly<Record<string, Gradient>>;
  readonly electrons: Readonly<Record<string, number>>;
  /** Columns and rows without data; none where a filter is not named. */
  readonly ragged: Readonly<Record<string, Exposure['ragged']>>;
  /** Read noise through broad and through narrow filters. */
  readonly readNoise: readonly [broad: number, narrow: number];
  /** Of the first filter, and from each to the next. */
  readonly seeds: readonly [first: number, step: number];
}

/** One exposure a filter. */
export const exposuresOf = ({ filters, gradients, electrons, ragged, readNoise, seeds }: Night): Exposure[] =>
  filters.map((filter, i) => ({
    filter,
    gradient: gradients[filter.name],
    electrons: electrons[filter.name],
    readNoise: readNoise[filter.width > 20 ? 0 : 1],
    ragged: ragged[filter.name] ?? [0, 0, 0, 0],
    seed: seeds[0] + seeds[1] * i,
  }));
