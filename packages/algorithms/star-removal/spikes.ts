import { SIGMA_TO_FWHM } from '../stars/shape';
import { medianInPlace, medianMadInPlace } from '@owl-loom/image/stats/quickselect';
import type { PlaneField } from './shared-profile';
import type { StarModel } from './fit';
import { forEachRayPixel, type Spike, spikeAlong } from './spike';

/** In which directions a field's stars throw spikes, each of them both ways, and how wide these are across. */
export interface SpikePattern {
  /** Radians, 0 to π. */
  readonly angles: readonly number[];
  /** σ, pixels. */
  readonly wide: number;
}

/** Stars that may tell: so many times brighter than what they stand on scatters, and at most so many of them. */
const TELLING = 50;
const MOST = 40;
/** Directions that are told apart. */
const BINS = 120;
/** Where is looked for spikes, in full widths: beyond the core, and not so far that neighbours are met. */
const FROM = 2.2;
const TO = 9;
/** No star counts for more than so many times the scatter of its directions. */
const CAP = 12;
/** A direction that stands out so far when all stars are taken together is looked at. */
const WORTH = 2;
/**
 * A direction is that of spikes where most of the brightest stars throw light both ways, each so many errors above nothing: how many stars are
 * asked, and how many errors. Faint spikes show on the very brightest alone, and the fewer are asked, the surer each must be.
 */
const BOTH_WAYS = [
  [1, 16],
  [3, 8],
  [6, 6],
  [12, 4],
] as const;
/** So large a part of those must throw any light both ways: two of three may stand in gas. */
const POSITIVE = 0.75;
/** Directions nearer to each other are one. */
const APART = 18;
const MOST_VANES = 8;
/** σ that are tried across a spike, in units of that of the stars. */
const WIDTHS = [0.5, 0.6, 0.7, 0.8, 0.9, 1, 1.1, 1.25, 1.4, 1.6, 1.8, 2, 2.3];
/** A ray holds light, and tells how wide it is, from so many errors on. */
const HOLDS = 15;
const MOST_ERRORS = 50;
/** How far to either side of a ray its level is told, and how far it is followed, in full widths. */
const BESIDE = 3;
const NEAR = 13;
const FAR = 24;
const BOTH = [0, Math.PI];

/** How far each direction about a star stands out of all. */
function seenAbout({ plane, width, height, fwhm }: PlaneField, { x, y }: StarModel): Float64Array {
  const [near, far] = [Math.max(4, FROM * fwhm), Math.max(14, TO * fwhm)];
  const lists = Array.from({ length: BINS }, (): number[] => []);
  for (let j = Math.max(0, Math.ceil(y - far)); j <= Math.min(height - 1, y + far); j++) {
    for (let i = Math.max(0, Math.ceil(x - far)); i <= Math.min(width - 1, x + far); i++) {
      const [dx, dy] = [i - x, j - y];
      const r2 = dx * dx + dy * dy;
      const v = plane[j * width + i];
      if (r2 < near * near || r2 > far * far || v !== v) continue;
      const turn = (Math.atan2(dy, dx) / Math.PI + 2) % 1;
      lists[Math.min(BINS - 1, Math.floor(turn * BINS))].push(v);
    }
  }
  // Medians along a direction: a neighbour is met at one place of it, a spike lies on all of them.
  const means = Float32Array.from(lists, (list) =>
    list.length >= 5 ? medianInPlace(Float32Array.from(list)) : Number.NaN,
  );
  const { middle, sigma } = medianMadInPlace(means.slice());
  return Float64Array.from(means, (v) =>
    v === v && sigma > 0 ? Math.max(-CAP, Math.min(CAP, (v - middle) / sigma)) : 0,
  );
}

/** How clearly a ray from a star holds light, in errors, against the level of all about it; NaN where nothing can be seen of it. */
function lightOn(field: PlaneField, star: StarModel, direction: number, wide: number, far: number): number {
  const { plane, width, height, fwhm } = field;
  const rect = { x: 0, y: 0, width, height };
  let [gv, g, gg, n, sum] = [0, 0, 0, 0, 0];
  forEachRayPixel(rect, 0, star, direction, far * fwhm, BESIDE * fwhm, (at, along, across) => {
    const v = plane[at];
    if (v !== v || along < FROM * fwhm) return;
    const w = Math.exp(-(across ** 2) / (2 * wide ** 2));
    gv += w * v;
    g += w;
    gg += w * w;
    n++;
    sum += v;
  });
  // Both square to a constant.
  const own = gg - (g * g) / n;
  return own > 0 ? (gv - (g * sum) / n) / (star.scatter * Math.sqrt(own)) : Number.NaN;
}

/** How clearly rays both ways from some stars do; no ray counts for more than so many errors. */
function lightAlong(field: PlaneField, stars: readonly StarModel[], angle: number, wide: number, far: number): number {
  const rays = stars.flatMap((star) => BOTH.map((way) => lightOn(field, star, angle + way, wide, far)));
  const capped = rays.filter((ray) => ray === ray).map((ray) => Math.max(-MOST_ERRORS, Math.min(MOST_ERRORS, ray)));
  return capped.reduce((total, ray) => total + ray, 0) / Math.sqrt(Math.max(1, rays.length));
}

/** The value among some that makes a measure greatest. */
const best = (values: readonly number[], of: (value: number) => number): number => {
  const sums = values.map(of);
  return values[sums.indexOf(Math.max(...sums))];
};

/**
 * The directions of a field's spikes, from an image from which the round light of its brightest stars has been taken.
 * @returns undefined where there are none: only what most stars throw both ways is a spike
 */
export function detectSpikePattern(field: PlaneField, lights: readonly StarModel[]): SpikePattern | undefined {
  const { fwhm } = field;
  const stars = lights
    .filter(({ table, scatter }) => table[0] > TELLING * scatter)
    .sort((a, b) => b.table[0] - a.table[0])
    .slice(0, MOST);
  if (stars.length === 0) return undefined;
  const seen = stars.map((star) => seenAbout(field, star));
  const at = (list: ArrayLike<number>, bin: number) => list[(bin + BINS) % BINS];
  const total = Float64Array.from({ length: BINS }, (_, b) => seen.reduce((sum, own) => sum + own[b], 0));
  const score = (b: number) => (at(total, b - 1) + 2 * at(total, b) + at(total, b + 1)) / 4 / Math.sqrt(stars.length);
  const ranked = Array.from({ length: BINS }, (_, b) => b)
    .filter((b) => score(b) > WORTH)
    .sort((a, b) => score(b) - score(a));
  const peaks: number[] = [];
  const apart = (a: number, b: number) => Math.min(Math.abs(a - b), BINS - Math.abs(a - b)) * (180 / BINS);
  for (const b of ranked) if (peaks.every((other) => apart(other, b) > APART)) peaks.push(b);
  const telling = stars.slice(0, 12);
  const plain = Math.max(0.8, fwhm / SIGMA_TO_FWHM);
  const degree = Math.PI / 180;
  const throws = (angle: number): boolean => {
    // Of a star's two rays the fainter: what lies beside a star by chance lies on one side.
    const fainter = telling
      .map((star) => Math.min(...BOTH.map((way) => lightOn(field, star, angle + way, plain, NEAR))))
      .filter((light) => light === light);
    return BOTH_WAYS.some(([max, sure]) => {
      const asked = fainter.slice(0, max);
      const enough = asked.length >= max && asked.filter((light) => light > 0).length >= POSITIVE * max;
      return enough && medianInPlace(Float32Array.from(asked)) > sure;
    });
  };
  const raysAt = (angle: number) =>
    telling
      .flatMap((star) => BOTH.map((way) => ({ star, way })))
      .filter(({ star, way }) => lightOn(field, star, angle + way, plain, NEAR) > HOLDS);
  const steps = (count: number, step: number) => Array.from({ length: 2 * count + 1 }, (_, i) => (i - count) * step);
  const angles = peaks
    .slice(0, MOST_VANES)
    .map((b) => {
      const rough = ((b + 0.5) / BINS) * Math.PI;
      const coarse = best(
        steps(6, 0.5 * degree).map((by) => rough + by),
        (turn) => lightAlong(field, telling, turn, plain, NEAR),
      );
      // Each ray that holds enough light says where it points; the middle of them is believed.
      const turns = raysAt(coarse).map(({ star, way }) =>
        best(steps(20, 0.06 * degree), (by) => lightOn(field, star, coarse + by + way, plain, FAR)),
      );
      return turns.length > 0 ? coarse + medianInPlace(Float32Array.from(turns)) : coarse;
    })
    .filter(throws);
  if (angles.length === 0) return undefined;
  const widths = angles.flatMap((angle) =>
    raysAt(angle).map(({ star, way }) => best(WIDTHS, (by) => lightOn(field, star, angle + way, by * plain, NEAR))),
  );
  const wide = plain * (widths.length > 0 ? medianInPlace(Float32Array.from(widths)) : 1);
  return { angles, wide };
}

/** A star throws spikes where all its arms together stand so many errors above nothing; an arm of such a star, where it stands so many. */
const STAR = 5;
const ARM = 1.5;

/** The spikes of one star. */
export function fitSpikes(field: PlaneField, { x, y, scatter }: StarModel, { angles, wide }: SpikePattern): Spike[] {
  const arms = angles.flatMap((angle) =>
    [angle, angle + Math.PI].map((way) => spikeAlong(field, { x, y }, way, wide, scatter)),
  );
  if (arms.length === 0) return [];
  const together = arms.reduce((sum, { sure }) => sum + sure, 0) / Math.sqrt(arms.length);
  return together > STAR ? arms.flatMap(({ spike, sure }) => (spike && sure > ARM ? [spike] : [])) : [];
}
