import { moffat, moffatRadius } from '../stars/moffat';
import { medianOfSorted } from '@owl-loom/image/stats/median';
import { collectDisc } from './disc';
import { aboveBackground, fitLocalBackground } from './local-background';
import { knotOfRadius, KNOTS, radiusAt } from './radial-profile';

/** A star before its light is taken off. */
export interface DetectedStar {
  readonly x: number;
  readonly y: number;
  /** Greatest value above its sky, and the light in its aperture. */
  readonly peak: number;
  readonly flux: number;
  readonly saturated: boolean;
}

/** A profile that stars share, by distance, of a star whose aperture holds light of 1. */
export interface SharedProfile {
  readonly table: Float64Array;
  /** From here on it goes on as Moffat's profile does: nothing there could be measured. */
  readonly sure: number;
}

export interface PlaneField {
  readonly plane: Float32Array;
  readonly width: number;
  readonly height: number;
  readonly noise: number;
  readonly fwhm: number;
  readonly beta: number;
}

/** Wings no wider than these are taken for what nothing shows: a few stars do not tell theirs, and light that is not there must not be taken. */
const WIDEST = 3;
/** Stars that are looked at, and of those the ones that tell the wings. */
const MOST = 200;
const FOR_WINGS = 30;
/** Fewest stars that tell a profile better than Moffat's does. */
const FEWEST = 4;
/** Out to here, in full widths, all stars are asked. */
const CORE = 2;
/** How often its own error a knot must stand above nothing. */
const SURE = 4;

/** How far a star's light reaches: to where its profile falls to a share of the noise. */
export function profileExtent(peak: number, { noise, fwhm, beta }: PlaneField): number {
  return Math.min(FURTHEST, Math.max(LEAST * fwhm, moffatRadius(fwhm, beta, peak / (FAINTEST * noise))));
}

/** A share of the noise at which a star's light is followed no further, and full widths to which it always is: faint wings add up. */
const FAINTEST = 0.08;
const LEAST = 3.5;
/** No star is followed further than so many pixels. */
const FURTHEST = 160;

/** Width of the ring about a star that tells what it stands on. */
export const annulusWidth = (reach: number): number => Math.max(4, Math.min(16, 0.35 * reach));

/**
 * The profile of a field's stars: medians by distance over the brighter of them, and Moffat's profile beyond what they show.
 * @param stars of one kind, the brightest first
 * @param aperture radius of the circle that holds their `flux`
 */
export function buildSharedProfile(field: PlaneField, stars: readonly DetectedStar[], aperture: number): SharedProfile {
  const { plane, width, height, noise, fwhm, beta } = field;
  const shape = moffat(fwhm, Math.max(WIDEST, beta));
  let held = 0;
  for (let r = 0.05; r < aperture; r += 0.1) held += 2 * Math.PI * r * 0.1 * shape(r);
  const plain = Float64Array.from({ length: KNOTS }, (_, k) => shape(radiusAt(k)) / held);
  const asked = stars.filter((star) => !star.saturated).slice(0, MOST);
  if (asked.length < FEWEST) return { table: plain, sure: 0 };
  const bins = Array.from({ length: KNOTS }, (): number[] => []);
  const wings = asked[Math.min(asked.length, FOR_WINGS) - 1].flux;
  for (const { x, y, peak, flux } of asked) {
    const reach = flux >= wings ? profileExtent(peak, field) : CORE * fwhm;
    const disc = collectDisc(plane, width, height, x, y, reach + annulusWidth(reach), reach);
    const ground = fitLocalBackground(disc, noise);
    if (!ground) continue;
    for (let i = 0; i < disc.count; i++) {
      if (disc.r[i] > reach) continue;
      bins[Math.round(knotOfRadius(disc.r[i]))]?.push(aboveBackground(disc, i, ground) / flux);
    }
  }
  return mergeWithPrior(
    bins.map((bin) => knotOf(bin)),
    plain,
    CORE * fwhm,
  );
}

/** The middle of a knot's pixels and its error, where they are enough. */
function knotOf(bin: number[]): { middle: number; error: number } | undefined {
  if (bin.length < 8) return undefined;
  const values = bin.sort((a, b) => a - b);
  const middle = medianOfSorted(values);
  const away = values.map((v) => Math.abs(v - middle)).sort((a, b) => a - b);
  return { middle, error: (1.86 * medianOfSorted(away)) / Math.sqrt(values.length) };
}

/** How far the next knot may lie off Moffat's profile carried on from the one before, as a share of it. */
const OFF = 0.15;

/**
 * Measured knots and Moffat's profile, each as sure as it is, falling throughout: a few stars tell the core, only many and bright ones the
 * wings.
 */
function mergeWithPrior(
  measured: readonly ({ middle: number; error: number } | undefined)[],
  plain: Float64Array,
  core: number,
): SharedProfile {
  const first = measured.findIndex((v) => v !== undefined && v.middle > SURE * v.error);
  if (first < 0) return { table: plain, sure: 0 };
  const table = plain.slice();
  let scale = (measured[first]?.middle ?? 1) / plain[first];
  let sure = 0;
  for (let k = 0; k < KNOTS; k++) {
    const own = k >= first ? measured[k] : undefined;
    const before = plain[k] * scale;
    let value = before;
    if (own) {
      const [a, b] = [1 / Math.max(own.error, 1e-12) ** 2, 1 / (OFF * before) ** 2];
      value = Math.max(0.5 * before, (a * own.middle + b * before) / (a + b));
      if (own.middle > SURE * own.error || radiusAt(k) < core) sure = radiusAt(k);
    }
    table[k] = k === 0 ? value : Math.min(table[k - 1], value);
    scale = table[k] / plain[k];
  }
  return { table, sure };
}
