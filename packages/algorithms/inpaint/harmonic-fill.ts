import { toLevel } from '@owl-loom/image/geometry/level-position';
import { intersect, isEmpty, type Rect, union } from '@owl-loom/image/geometry/rect';
import { medianInPlace } from '@owl-loom/image/stats/quickselect';

/** A round blemish: its middle and radius in full-size frame pixels. */
export type Circle = readonly [x: number, y: number, radius: number];

/** A circle that spans less of a level's pixel than this is not seen there. */
const SMALLEST = 0.75;
/** How often the surroundings may turn about, going around a circle. */
const MOST_WAVES = 6;
/** Where grain is taken from, in radii and pixels from a circle's middle: as near as may be without touching the circle itself. */
const NEAR = { times: 2.7, pixels: 2 } as const;
const FAR = { times: 3.6, pixels: 3 } as const;
/** How much more a surface may bend in its middle than the second wave around it does. */
const MOST_BEND = 0.6;
/** Directions that are tried, in an order that does not run around. */
const COMPASS = [0, 5, 10, 3, 8, 1, 6, 11, 4, 9, 2, 7].map((k) => (2 * Math.PI * k) / 12);
/** Grain that stands out further than so many times the scatter around is no noise but something of its own. */
const CLEAR = 5;
/** Grain whose strength is within this share of what it should be is good enough. */
const ALIKE = 0.08;

interface Place {
  readonly x: number;
  readonly y: number;
  readonly r: number;
}

const placesOn = (circles: readonly Circle[], level: number): Place[] =>
  circles
    .map(([x, y, radius]) => ({ x: toLevel(x, level), y: toLevel(y, level), r: radius / 2 ** level }))
    .filter(({ r }) => r >= SMALLEST);

/** The square about a circle that reaches so far. */
const squareAbout = ({ x, y }: Place, reach: number): Rect => {
  const [left, low] = [Math.floor(x - reach), Math.floor(y - reach)];
  return { x: left, y: low, width: Math.ceil(x + reach) - left + 1, height: Math.ceil(y + reach) - low + 1 };
};

/** Width of the ring about a circle that tells what lies around it. */
const ringOf = (r: number): number => Math.max(3, 0.7 * r);

/** As far as a filling looks: to the furthest place that grain is taken from, and what lies around that. */
const lookedAt = (place: Place): Rect =>
  squareAbout(place, FAR.times * place.r + FAR.pixels + place.r + ringOf(place.r) + 2);

const touching = (places: readonly Place[], rect: Rect): Place[] =>
  places.filter((place) => !isEmpty(intersect(squareAbout(place, place.r), rect)));

/** The window of an image from which the circles in `rect` can be filled. */
export const inpaintSourceRect = (rect: Rect, circles: readonly Circle[], level: number): Rect =>
  touching(placesOn(circles, level), rect).reduce((sum, place) => union(sum, lookedAt(place)), rect);

const inside = (places: readonly Place[], x: number, y: number): boolean =>
  places.some((p) => (x - p.x) ** 2 + (y - p.y) ** 2 <= p.r * p.r);

/** What lies around a circle, as a smooth surface over its inside, and how much it scatters. */
interface BoundarySurface {
  readonly at: (x: number, y: number) => number;
  readonly scatter: number;
}

/**
 * The surface that is harmonic inside a circle and takes what lies around it at the rim: `a₀ + Σ (ρ/ρ₀)ᵐ (aₘ cos mθ + bₘ sin mθ)`, of the
 * medians of sectors, so that a star beside it counts little. It follows any slope exactly.
 * @returns nothing where there is too little around it
 */
function fitBoundarySurface(
  place: Place,
  plane: Float32Array,
  rect: Rect,
  others: readonly Place[],
): BoundarySurface | undefined {
  const { x: cx, y: cy, r } = place;
  const wide = ringOf(r);
  const sectors = Math.min(24, Math.max(8, 2 * Math.floor((Math.PI * (r + wide / 2)) / 3)));
  const values = Array.from({ length: sectors }, (): number[] => []);
  const seen: (readonly [x: number, y: number, v: number])[] = [];
  const part = intersect(squareAbout(place, r + wide), rect);
  for (let y = part.y; y < part.y + part.height; y++) {
    for (let x = part.x; x < part.x + part.width; x++) {
      const d = Math.hypot(x - cx, y - cy);
      if (!(d > r && d <= r + wide) || inside(others, x, y)) continue;
      const v = plane[(y - rect.y) * rect.width + x - rect.x];
      if (v !== v) continue;
      const turn = Math.atan2(y - cy, x - cx) / (2 * Math.PI) + 1;
      values[Math.floor(turn * sectors) % sectors].push(v);
      seen.push([x, y, v]);
    }
  }
  if (seen.length < 8) return undefined;
  const middle = medianInPlace(Float32Array.from(seen, ([, , v]) => v));
  const levels = closed(
    values.map((list) => (list.length > 0 ? medianInPlace(Float32Array.from(list)) : undefined)),
    middle,
  );
  const scatter =
    1.4826 * medianInPlace(Float32Array.from(values.flatMap((list, s) => list.map((v) => Math.abs(v - levels[s])))));
  const rim = r + wide / 2;
  const waves = Math.min(MOST_WAVES, Math.floor(sectors / 4));
  const mean = levels.reduce((s, v) => s + v, 0) / sectors;
  const terms = Array.from({ length: waves }, (_, m) => {
    const sum = (wave: (turn: number) => number) =>
      (2 / sectors) * levels.reduce((s, v, i) => s + v * wave((2 * Math.PI * (m + 1) * (i + 0.5)) / sectors), 0);
    return [sum(Math.cos), sum(Math.sin)] as const;
  });
  const harmonic = (x: number, y: number): number => {
    // Powers of one complex number: (ρ/ρ₀)ᵐ (cos mθ + i sin mθ).
    const [u, v] = [(x - cx) / rim, (y - cy) / rim];
    let [re, im] = [1, 0];
    let sum = mean;
    for (const [a, b] of terms) {
      [re, im] = [re * u - im * v, re * v + im * u];
      sum += a * re + b * im;
    }
    return sum;
  };
  // Gas bends more one way than the other, which the second wave shows; what bends alike all around is a star's own wings.
  const saddle = MOST_BEND * Math.hypot(...(terms[1] ?? [0]));
  const bend = Math.max(-saddle, Math.min(saddle, bendOf(seen, harmonic, place, rim, scatter)));
  return {
    scatter,
    at: (x, y) => harmonic(x, y) + bend * (1 - ((x - cx) ** 2 + (y - cy) ** 2) / (rim * rim)),
  };
}

/** A round of levels whose gaps are closed by straight lines between those on either side. */
function closed(levels: readonly (number | undefined)[], middle: number): number[] {
  const n = levels.length;
  const next = (from: number, step: 1 | -1): [number, number] => {
    for (let k = 1; k < n; k++) {
      const v = levels[(from + k * step + n * 2) % n];
      if (v !== undefined) return [v, k];
    }
    return [middle, 1];
  };
  return levels.map((own, k) => {
    if (own !== undefined) return own;
    const [[a, back], [b, on]] = [next(k, -1), next(k, 1)];
    return (a * on + b * back) / (back + on);
  });
}

/**
 * How far the middle stands above the harmonic surface, which bends as much one way as the other: as the ring's own bending from its inner to
 * its outer edge tells, as far as it stands out of the noise.
 */
function bendOf(
  seen: readonly (readonly [x: number, y: number, v: number])[],
  harmonic: (x: number, y: number) => number,
  { x: cx, y: cy }: Place,
  rim: number,
  scatter: number,
): number {
  let [n, st, sv, tt, tv] = [0, 0, 0, 0, 0];
  for (const [x, y, v] of seen) {
    const off = v - harmonic(x, y);
    if (Math.abs(off) > 3 * scatter) continue;
    const t = 1 - ((x - cx) ** 2 + (y - cy) ** 2) / (rim * rim);
    n++;
    st += t;
    sv += off;
    tt += t * t;
    tv += t * off;
  }
  const spread = tt - (st * st) / Math.max(1, n);
  if (n < 12 || !(spread > 0)) return 0;
  const bend = (tv - (st * sv) / n) / spread;
  const error = scatter / Math.sqrt(spread);
  return bend * Math.max(0, 1 - (1.5 * error * error) / (bend * bend));
}

/** Pixels of a place nearby, less the smooth surface over it: noise as it is there, coarse and fine. */
type NoiseTexture = (x: number, y: number) => number;

/**
 * Grain for a circle from a place nearby that looks like its surroundings: without data missing, without other circles, nothing standing out.
 * Of those tried it is the first whose strength is that of the surroundings, or else the one that comes nearest.
 */
function findNoiseTexture(
  place: Place,
  around: BoundarySurface,
  plane: Float32Array,
  rect: Rect,
  others: readonly Place[],
): NoiseTexture {
  const { x: cx, y: cy, r } = place;
  let best: { off: number; grain: NoiseTexture } | undefined;
  for (const { times, pixels } of [NEAR, FAR]) {
    for (const turn of COMPASS) {
      const far = times * r + pixels;
      const [dx, dy] = [Math.round(far * Math.cos(turn)), Math.round(far * Math.sin(turn))];
      const there = { x: cx + dx, y: cy + dy, r };
      if (!isFree(there, rect, others)) continue;
      const base = fitBoundarySurface(there, plane, rect, [...others, place]);
      if (!base) continue;
      const grain = (x: number, y: number): number =>
        plane[(y + dy - rect.y) * rect.width + x + dx - rect.x] - base.at(x + dx, y + dy);
      const strength = strengthOf(grain, place, around.scatter);
      if (strength === undefined) continue;
      const off = Math.abs(strength / around.scatter - 1);
      if (off < ALIKE) return grain;
      if (!best || off < best.off) best = { off, grain };
    }
  }
  return best && best.off < 0.6 ? best.grain : () => 0;
}

/** Whether a circle lies whole in a rectangle and touches no other. */
const isFree = ({ x, y, r }: Place, rect: Rect, others: readonly Place[]): boolean =>
  x - r - 1 >= rect.x &&
  y - r - 1 >= rect.y &&
  x + r + 1 < rect.x + rect.width &&
  y + r + 1 < rect.y + rect.height &&
  !others.some((other) => Math.hypot(other.x - x, other.y - y) < other.r + r);

/** Root mean square of the grain in a circle; undefined where a pixel has no data or stands out. */
function strengthOf(grain: NoiseTexture, place: Place, scatter: number): number | undefined {
  const part = squareAbout(place, place.r);
  let [sum, n] = [0, 0];
  for (let y = part.y; y < part.y + part.height; y++) {
    for (let x = part.x; x < part.x + part.width; x++) {
      if (Math.hypot(x - place.x, y - place.y) > place.r) continue;
      const v = grain(x, y);
      if (!(Math.abs(v) <= CLEAR * scatter)) return undefined;
      sum += v * v;
      n++;
    }
  }
  return Math.sqrt(sum / n);
}

/**
 * Fills circles from what lies around each: the smooth surface through their rims, and the grain of a place nearby. Pixels outside all circles stay, and
 * those without data; where circles overlap each counts by how deep a pixel lies in it. Any window of it is that window of the whole.
 * @param plane pixels of `rect`, at least {@link inpaintSourceRect} of `window`
 * @param out pixels of `window`, which hold the image already
 */
export function inpaintCircles(
  plane: Float32Array,
  rect: Rect,
  out: Float32Array,
  window: Rect,
  circles: readonly Circle[],
  level: number,
): void {
  const places = placesOn(circles, level);
  const here = touching(places, window);
  if (here.length === 0) return;
  const about = touching(
    places,
    here.reduce((sum, place) => union(sum, lookedAt(place)), window),
  );
  const sums = new Map<number, [value: number, weight: number]>();
  for (const place of here) {
    const near = lookedAt(place);
    const others = about.filter((p) => p !== place && !isEmpty(intersect(squareAbout(p, p.r), near)));
    const around = fitBoundarySurface(place, plane, rect, others);
    if (!around) continue;
    const grain = findNoiseTexture(place, around, plane, rect, others);
    const part = intersect(squareAbout(place, place.r), window);
    for (let y = part.y; y < part.y + part.height; y++) {
      for (let x = part.x; x < part.x + part.width; x++) {
        const [dx, dy] = [x - place.x, y - place.y];
        const d = Math.hypot(dx, dy);
        const at = (y - window.y) * window.width + x - window.x;
        if (d > place.r || out[at] !== out[at]) continue;
        const value = around.at(x, y) + grain(x, y);
        const weight = place.r - d + 0.01;
        const before = sums.get(at) ?? [0, 0];
        sums.set(at, [before[0] + weight * value, before[1] + weight]);
      }
    }
  }
  for (const [at, [value, weight]] of sums) out[at] = value / weight;
}
