import { UserError } from '../errors';
import { halve, levelSize } from '../raster/levels';
import { gaussian } from '../scales/gaussian';
import { type Affine, compose, mapPoint } from './affine';
import type { Alignment } from './align';
import { crossCorrelation, padded, transform } from './fft';
import type { AlignModel } from './solve';
import { correlationUnder, refineMap } from './structures-refine';

/** Alignment by what two images both show, besides stars. */
export interface StructureAlignment extends Alignment {
  /** Correlation of both images after the map, 0 to 1. */
  readonly correlation: number;
  /** How far the correlation there stands above the next best place, 0 to 1: near 0 another place would do as well. */
  readonly certainty: number;
}

/** Pixels of the finest level that is looked at: it places structures to well under a pixel of full size. */
const FINEST = 1_200_000;
/** Pixels along the longer side of the level on which all shifts and turns are tried, at most. */
const SEARCHED = 400;
/** Turns that are tried, in degrees, and the share of the picture that a shift may be. */
const TURNS = Array.from({ length: 25 }, (_, i) => (i - 12) / 2);
const SHIFT = 0.25;
/** Places nearer than this many pixels to the best are the best. */
const APART = 6;
/** Places that are refined before the best is taken. */
const REFINED = 5;
/** σ of the smoothings, in a level's pixels, between which structures are looked at. */
const FINE = 1.6;
const COARSE = 6;
/** Structures count up to so many σ, so that no bright star decides. */
const CLIP = 3;
const SURE = { correlation: 0.2, certainty: 0.18 } as const;
/** A turn by so many degrees more must spoil the correlation as much as another place does, or the turn is not told. */
const OTHER_TURN = 2;

/** One level of an image: its structures, in units of their own scatter, 0 where there is no data. */
export interface StructureLevel {
  readonly width: number;
  readonly height: number;
  readonly values: Float32Array;
}

/** The structures of one level: what lies between two smoothings, clipped, in units of its scatter. */
function structuresOf(plane: Float32Array, width: number, height: number): StructureLevel {
  const rect = { x: 0, y: 0, width, height };
  const [fine, coarse] = [FINE, COARSE].map((sigma) => gaussian(plane, rect, sigma, rect));
  const values = new Float32Array(plane.length);
  const sizes: number[] = [];
  for (let i = 0; i < values.length; i++) {
    const v = plane[i] === plane[i] ? fine[i] - coarse[i] : Number.NaN;
    values[i] = v;
    if (v === v && v !== 0 && i % 3 === 0) sizes.push(Math.abs(v));
  }
  sizes.sort((a, b) => a - b);
  // The scatter of what stands out rather than of the sky: nine tenths lie below it.
  const scale = sizes[Math.floor(0.9 * sizes.length)] || 1;
  for (let i = 0; i < values.length; i++) {
    const v = values[i] / scale;
    values[i] = v === v ? Math.max(-CLIP, Math.min(CLIP, v)) : 0;
  }
  return { width, height, values };
}

/** The levels of an image that are looked at, the finest first, and the level of the finest. */
function pyramidOf(plane: Float32Array, width: number, height: number): { levels: StructureLevel[]; first: number } {
  let [values, w, h, first] = [plane, width, height, 0];
  while (w * h > FINEST) {
    [values, w, h] = [halve(values, w, h), levelSize(w, 1), levelSize(h, 1)];
    first++;
  }
  const levels = [structuresOf(values, w, h)];
  while (Math.max(w, h) > SEARCHED) {
    [values, w, h] = [halve(values, w, h), levelSize(w, 1), levelSize(h, 1)];
    levels.push(structuresOf(values, w, h));
  }
  return { levels, first };
}

/** Turn about the middle of the target by degrees, then a shift, from target to reference pixels of a level. */
function turnAndShift(
  target: StructureLevel,
  reference: StructureLevel,
  degrees: number,
  dx: number,
  dy: number,
): Affine {
  const a = (degrees * Math.PI) / 180;
  const [c, s] = [Math.cos(a), Math.sin(a)];
  const [x, y] = [(target.width - 1) / 2, (target.height - 1) / 2];
  const [u, v] = [(reference.width - 1) / 2 + dx, (reference.height - 1) / 2 + dy];
  return { xx: c, xy: -s, tx: u - c * x + s * y, yx: s, yy: c, ty: v - s * x - c * y };
}

/** A level turned about its middle by degrees, of its own size, by nearest pixels: enough to find a place. */
function turnedLevel({ width, height, values }: StructureLevel, degrees: number): Float32Array {
  if (degrees === 0) return values;
  const a = (-degrees * Math.PI) / 180;
  const [c, s, cx, cy] = [Math.cos(a), Math.sin(a), (width - 1) / 2, (height - 1) / 2];
  const out = new Float32Array(values.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = Math.round(cx + c * (x - cx) - s * (y - cy));
      const j = Math.round(cy + s * (x - cx) + c * (y - cy));
      if (i >= 0 && j >= 0 && i < width && j < height) out[y * width + x] = values[j * width + i];
    }
  return out;
}

interface Place {
  readonly degrees: number;
  /** From the middle of the one to the middle of the other, pixels of the level. */
  readonly dx: number;
  readonly dy: number;
  readonly correlation: number;
}

/** All places whose correlation is the greatest about, of one turn. */
function placesOf(
  target: StructureLevel,
  reference: StructureLevel,
  degrees: number,
  sums: Float64Array,
  size: number,
): Place[] {
  const reach = Math.min(size / 2 - 1, Math.round(SHIFT * Math.max(reference.width, reference.height)));
  const [mx, my] = [(reference.width - target.width) / 2, (reference.height - target.height) / 2];
  const at = (x: number, y: number): number => sums[((y + size) % size) * size + ((x + size) % size)];
  const found: Place[] = [];
  for (let dy = -reach; dy <= reach; dy++)
    for (let dx = -reach; dx <= reach; dx++) {
      const [i, j] = [Math.round(mx) + dx, Math.round(my) + dy];
      const here = at(i, j);
      if (here < at(i - 1, j) || here < at(i + 1, j) || here < at(i, j - 1) || here < at(i, j + 1)) continue;
      // What overlaps less has less to add up.
      const overlap = (1 - Math.abs(dx) / target.width) * (1 - Math.abs(dy) / target.height);
      found.push({ degrees, dx: i - mx, dy: j - my, correlation: here / overlap });
    }
  return found;
}

/** The few best places, each well away from the others. */
function bestPlaces(places: Place[]): Place[] {
  const best: Place[] = [];
  for (const place of places.sort((a, b) => b.correlation - a.correlation)) {
    if (best.every((other) => Math.hypot(other.dx - place.dx, other.dy - place.dy) > APART)) best.push(place);
    if (best.length === REFINED) break;
  }
  return best;
}

/**
 * The best turn and shift on a level, and how far it stands above the best elsewhere once both are refined. Two turns go through one
 * transform, as its real and its imaginary part.
 */
function searched(
  target: StructureLevel,
  reference: StructureLevel,
  model: AlignModel,
): { map: Affine; certainty: number } {
  const longest = Math.max(target.width, target.height, reference.width, reference.height);
  const size = 2 ** Math.ceil(Math.log2(longest * (1 + SHIFT)));
  const theirs = padded(reference, size, reference.values);
  transform(theirs, -1);
  const places: Place[] = [];
  const tried = model === 'shift' ? [0] : TURNS;
  for (let k = 0; k < tried.length; k += 2) {
    const turns = tried.slice(k, k + 2);
    const [first, second] = turns.map((degrees) => turnedLevel(target, degrees));
    const mine = padded(target, size, first, second);
    transform(mine, -1);
    const sums = crossCorrelation(mine, theirs);
    turns.forEach((degrees, i) => places.push(...placesOf(target, reference, degrees, sums[i], size)));
  }
  const refined = bestPlaces(places)
    .map(({ degrees, dx, dy }) => refineMap(target, reference, turnAndShift(target, reference, degrees, dx, dy), model))
    .sort((a, b) => b.correlation - a.correlation);
  if (refined.length === 0) return { map: turnAndShift(target, reference, 0, 0, 0), certainty: 0 };
  const [{ map, correlation }, ...others] = refined;
  const middle = (of: Affine) => mapPoint(of, (target.width - 1) / 2, (target.height - 1) / 2);
  const [x, y] = middle(map);
  const elsewhere = others.find((other) => {
    const [u, v] = middle(other.map);
    return Math.hypot(u - x, v - y) > APART / 2;
  });
  const turned =
    model === 'shift'
      ? []
      : [-OTHER_TURN, OTHER_TURN].map((degrees) =>
          correlationUnder(target, reference, turnedAbout(map, target, degrees)),
        );
  const next = Math.max(0, elsewhere?.correlation ?? 0, ...turned);
  return { map, certainty: correlation > 0 ? 1 - next / correlation : 0 };
}

/** A map after the target is turned about its middle by degrees. */
function turnedAbout(map: Affine, { width, height }: StructureLevel, degrees: number): Affine {
  const a = (degrees * Math.PI) / 180;
  const [c, s, x, y] = [Math.cos(a), Math.sin(a), (width - 1) / 2, (height - 1) / 2];
  return compose({ xx: c, xy: -s, tx: x - c * x + s * y, yx: s, yy: c, ty: y - s * x - c * y }, map);
}

/** A map between two levels as one between the levels of twice their pixels. */
const finer = (map: Affine, by = 1): Affine => {
  const n = 2 ** by;
  const half = (n - 1) / 2;
  // A level's pixel x lies at n·x + half.
  return {
    ...map,
    tx: n * map.tx + half - map.xx * half - map.xy * half,
    ty: n * map.ty + half - map.yx * half - map.yy * half,
  };
};

/**
 * Aligns by the structures that both images show: gas, galaxies and stars alike. All shifts up to a third of the picture and turns up to six
 * degrees are tried on a coarse level; the best one is refined level by level by least squares (Lucas & Kanade 1981), with the size where
 * the model has one.
 * @throws UserError where the images show nothing in common, or several places would do
 */
export function alignStructures(
  target: { plane: Float32Array; width: number; height: number },
  reference: { plane: Float32Array; width: number; height: number },
  model: AlignModel,
): StructureAlignment {
  const [mine, theirs] = [
    pyramidOf(target.plane, target.width, target.height),
    pyramidOf(reference.plane, reference.width, reference.height),
  ];
  // Both are looked at on the same levels.
  const first = Math.max(mine.first, theirs.first);
  const levels = Math.min(mine.levels.length + mine.first, theirs.levels.length + theirs.first) - first;
  const at = (of: typeof mine, k: number): StructureLevel => of.levels[first + k - of.first];
  const { map: start, certainty } = searched(at(mine, levels - 1), at(theirs, levels - 1), model);
  let map = start;
  let found = refineMap(at(mine, levels - 1), at(theirs, levels - 1), map, model);
  for (let k = levels - 1; k >= 0; k--) {
    found = refineMap(at(mine, k), at(theirs, k), map, model);
    map = k > 0 ? finer(found.map) : found.map;
  }
  const { correlation } = found;
  if (!(correlation >= SURE.correlation) || !(certainty >= SURE.certainty))
    throw new UserError(
      'align-no-structures',
      `The structures of the two images do not tell how one lies on the other (correlation ${Math.max(0, correlation).toFixed(2)}, certainty ${Math.max(0, certainty).toFixed(2)}). Align by WCS or by stars, or place it manually.`,
    );
  const n = 2 ** first;
  return { map: finer(map, first), rms: n * found.error, matched: 0, mirrored: false, correlation, certainty };
}
