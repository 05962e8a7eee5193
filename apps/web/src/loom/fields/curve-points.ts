import { LUMINANCE } from '@owl-loom/algorithms/colour/luminance';
import { oklchOf } from '@owl-loom/algorithms/colour/oklch';
import { srgbToLinear } from '@owl-loom/algorithms/colour/srgb';
import { type CurveName, MOST_CHROMA } from '@owl-loom/engine/steps/curves';
import { type CurvePoint, monotoneCubic } from '@owl-loom/algorithms/tone/monotone';

export const PLANES = ['red', 'green', 'blue'] as const;

/** Points of a curve keep so far apart. */
const APART = 0.004;

const held = (v: number, low = 0, high = 1): number => Math.min(high, Math.max(low, v));
/** To a thousandth: nobody sets a point finer. */
const rounded = (v: number): number => Math.round(1000 * v) / 1000;

/** A point moved, between its neighbours and within the chart. */
export function moved(points: readonly CurvePoint[], index: number, [x, y]: CurvePoint): CurvePoint[] {
  const low = index > 0 ? points[index - 1][0] + APART : 0;
  const high = index < points.length - 1 ? points[index + 1][0] - APART : 1;
  return points.map((point, i): CurvePoint => (i === index ? [rounded(held(x, low, high)), rounded(held(y))] : point));
}

/** A point set at a place; one that stands there already is taken up. */
export function added(points: readonly CurvePoint[], place: CurvePoint): { points: CurvePoint[]; index: number } {
  const [x, y] = [held(place[0]), place[1]];
  const near = points.findIndex((point) => Math.abs(point[0] - x) < 2 * APART);
  if (near >= 0) return { points: moved(points, near, [points[near][0], y]), index: near };
  const at = points.filter((point) => point[0] < x).length;
  const next = points.toSpliced(at, 0, [rounded(x), rounded(held(y))]);
  return { points: next, index: at };
}

/** The line that changes nothing. */
export const STRAIGHT: readonly CurvePoint[] = [
  [0, 0],
  [1, 1],
];

/** Whether a line changes nothing. */
export const isStraight = (points: readonly CurvePoint[]): boolean =>
  points[0][0] === 0 && points[points.length - 1][0] === 1 && points.every(([x, y]) => x === y);

/** The lines of a step, as far as it has them. */
type Lines = Partial<Readonly<Record<CurveName, readonly CurvePoint[]>>>;

const luminanceOf = ([r, g, b]: readonly number[]): number => LUMINANCE[0] * r + LUMINANCE[1] * g + LUMINANCE[2] * b;

/**
 * Where the numbers of a pixel stand on a line: what lines before it make of them.
 * @param pixel that comes into the step: one number, or red, green and blue
 * @returns one place, but one a plane where all share the line; none where the pixel has no data
 */
export function placesOn(name: CurveName, pixel: readonly number[], lines: Lines): number[] {
  if (!pixel.every(Number.isFinite)) return [];
  const bent = (own: CurveName, x: number): number => {
    const line = lines[own];
    return line ? monotoneCubic(line)(held(x)) : x;
  };
  if (name === 'all' || pixel.length === 1) return [...pixel];
  const after = pixel.map((v) => bent('all', v));
  if (name !== 'luminance' && name !== 'chroma') return [after[PLANES.indexOf(name)]];
  const planes = after.map((v, p) => bent(PLANES[p], v));
  const luminance = luminanceOf(planes);
  if (name === 'luminance') return [luminance];
  const shift = lines.luminance ? bent('luminance', luminance) - held(luminance) : 0;
  const [r, g, b] = planes.map((v) => srgbToLinear(v + shift));
  return [oklchOf([r, g, b])[1] / MOST_CHROMA];
}

/** The one place of a pixel on a line: where planes share it, that of its luminance. */
export const placeOn = (name: CurveName, pixel: readonly number[], lines: Lines): number | undefined =>
  name === 'all' && pixel.length === 3 && pixel.every(Number.isFinite)
    ? luminanceOf(pixel)
    : placesOn(name, pixel, lines)[0];
