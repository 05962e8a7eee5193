import { toLevel } from '../raster/levels';
import { intersect, isEmpty, type Rect, union } from '../raster/rect';
import { middleOf } from '../stats/middle';

/** A round blemish: its middle and radius in full-size frame pixels. */
export type Circle = readonly [x: number, y: number, radius: number];

/** A circle that spans less of a level's pixel than this is not seen there. */
const SMALLEST = 0.75;
/** How often the surroundings may turn about, going around a circle. */
const MOST_WAVES = 6;
/** What is left of white noise where the mean of 3x3 is taken off, undone. */
const GRAIN = Math.sqrt(9 / 8);
/** Grain that stands out further than so many times the scatter around is no noise. */
const CLEAR = 4;

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

/** As far as a filling looks: its surroundings out to twice the radius, and the neighbours of each of their pixels. */
const lookedAt = (place: Place): Rect => squareAbout(place, 2 * place.r + 3);

const touching = (places: readonly Place[], rect: Rect): Place[] =>
  places.filter((place) => !isEmpty(intersect(squareAbout(place, place.r), rect)));

/** The window of an image from which the circles in `rect` can be filled. */
export const fillNeeds = (rect: Rect, circles: readonly Circle[], level: number): Rect =>
  touching(placesOn(circles, level), rect).reduce((sum, place) => union(sum, lookedAt(place)), rect);

const inside = (places: readonly Place[], x: number, y: number): boolean =>
  places.some((p) => (x - p.x) ** 2 + (y - p.y) ** 2 <= p.r * p.r);

/** What lies around a circle, as a smooth surface over its inside, and how much it scatters. */
interface Around {
  readonly at: (x: number, y: number) => number;
  readonly scatter: number;
}

/**
 * The surface that is harmonic inside a circle and takes what lies around it at the rim: `a₀ + Σ (ρ/ρ₀)ᵐ (aₘ cos mθ + bₘ sin mθ)`, of the
 * medians of sectors, so that a star beside it counts little. It follows any slope exactly.
 * @returns nothing where there is too little around it
 */
function aroundOf(place: Place, plane: Float32Array, rect: Rect, others: readonly Place[]): Around | undefined {
  const { x: cx, y: cy, r } = place;
  const wide = Math.max(2, 0.6 * r);
  const sectors = Math.min(24, Math.max(8, 2 * Math.floor((Math.PI * (r + wide / 2)) / 3)));
  const values = Array.from({ length: sectors }, (): number[] => []);
  const part = intersect(squareAbout(place, r + wide), rect);
  for (let y = part.y; y < part.y + part.height; y++) {
    for (let x = part.x; x < part.x + part.width; x++) {
      const d = Math.hypot(x - cx, y - cy);
      if (!(d > r && d <= r + wide) || inside(others, x, y)) continue;
      const v = plane[(y - rect.y) * rect.width + x - rect.x];
      if (v !== v) continue;
      const turn = Math.atan2(y - cy, x - cx) / (2 * Math.PI) + 1;
      values[Math.floor(turn * sectors) % sectors].push(v);
    }
  }
  const all = values.flat();
  if (all.length < 8) return undefined;
  const middle = middleOf(all);
  const levels = values.map((list) => (list.length > 0 ? middleOf(list) : middle));
  const scatter = 1.4826 * middleOf(values.flatMap((list, s) => list.map((v) => Math.abs(v - levels[s]))));
  const rim = r + wide / 2;
  const waves = Math.min(MOST_WAVES, Math.floor(sectors / 4));
  const mean = levels.reduce((s, v) => s + v, 0) / sectors;
  const terms = Array.from({ length: waves }, (_, m) => {
    const sum = (wave: (turn: number) => number) =>
      (2 / sectors) * levels.reduce((s, v, i) => s + v * wave((2 * Math.PI * (m + 1) * (i + 0.5)) / sectors), 0);
    return [sum(Math.cos), sum(Math.sin)] as const;
  });
  return {
    scatter,
    at: (x, y) => {
      // Powers of one complex number: (ρ/ρ₀)ᵐ (cos mθ + i sin mθ).
      const [u, v] = [(x - cx) / rim, (y - cy) / rim];
      let [re, im] = [1, 0];
      let sum = mean;
      for (const [a, b] of terms) {
        [re, im] = [re * u - im * v, re * v + im * u];
        sum += a * re + b * im;
      }
      return sum;
    },
  };
}

/** A pixel less the mean of those about it: noise alone, where nothing sharp lies. */
function grainAt(plane: Float32Array, rect: Rect, x: number, y: number): number {
  let [sum, count] = [0, 0];
  for (let j = y - 1; j <= y + 1; j++) {
    for (let i = x - 1; i <= x + 1; i++) {
      if (i < rect.x || j < rect.y || i >= rect.x + rect.width || j >= rect.y + rect.height) continue;
      const v = plane[(j - rect.y) * rect.width + i - rect.x];
      if (v !== v) continue;
      sum += v;
      count++;
    }
  }
  const own = plane[(y - rect.y) * rect.width + x - rect.x];
  return count > 1 ? GRAIN * (own - sum / count) : 0;
}

/**
 * Fills circles from what lies around each, with the grain of the pixels that mirror them at the rim. Pixels outside all circles stay, and
 * those without data; where circles overlap each counts by how deep a pixel lies in it. Any window of it is that window of the whole.
 * @param plane pixels of `rect`, at least {@link fillNeeds} of `window`
 * @param out pixels of `window`, which hold the image already
 */
export function fillCircles(
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
  const sums = new Map<number, [value: number, weight: number]>();
  for (const place of here) {
    const near = lookedAt(place);
    const others = places.filter((p) => p !== place && !isEmpty(intersect(squareAbout(p, p.r), near)));
    const around = aroundOf(place, plane, rect, others);
    if (!around) continue;
    const part = intersect(squareAbout(place, place.r), window);
    for (let y = part.y; y < part.y + part.height; y++) {
      for (let x = part.x; x < part.x + part.width; x++) {
        const [dx, dy] = [x - place.x, y - place.y];
        const d = Math.hypot(dx, dy);
        const at = (y - window.y) * window.width + x - window.x;
        if (d > place.r || out[at] !== out[at]) continue;
        const value = around.at(x, y) + mirrored(place, dx, dy, d, plane, rect, others, around.scatter);
        const weight = place.r - d + 0.01;
        const before = sums.get(at) ?? [0, 0];
        sums.set(at, [before[0] + weight * value, before[1] + weight]);
      }
    }
  }
  for (const [at, [value, weight]] of sums) out[at] = value / weight;
}

/** The grain of the pixel that mirrors one inside a circle at its rim; none where something sharp stands there. */
function mirrored(
  { x: cx, y: cy, r }: Place,
  dx: number,
  dy: number,
  d: number,
  plane: Float32Array,
  rect: Rect,
  others: readonly Place[],
  scatter: number,
): number {
  const far = (2 * r - d + 0.8) / Math.max(d, 1e-6);
  const [x, y] =
    d < 1e-6 ? [Math.round(cx + 2 * r), Math.round(cy)] : [Math.round(cx + dx * far), Math.round(cy + dy * far)];
  const beyond = x < rect.x || y < rect.y || x >= rect.x + rect.width || y >= rect.y + rect.height;
  if (beyond || inside(others, x, y)) return 0;
  const grain = grainAt(plane, rect, x, y);
  return Math.abs(grain) <= CLEAR * scatter ? grain : 0;
}
