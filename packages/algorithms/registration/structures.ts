import { UserError } from '@owl-loom/base/errors';
import { downsample2x, levelSize } from '@owl-loom/image/pyramid/pyramid';
import { gaussian } from '@owl-loom/image/scales/gaussian';
import { type Affine, compose, mapPoint } from '@owl-loom/image/geometry/affine';
import type { Alignment } from './align';
import { crossCorrelation, padded, transform } from './fft';
import type { AlignModel } from './solve';
import { correlationUnder, type Refined, refineMap } from './structures-refine';

/** Alignment by what two images both show, besides stars. */
export interface StructureAlignment extends Alignment {
  /** Correlation of both images after the map, 0 to 1. */
  readonly correlation: number;
  /** How far the correlation there stands above the next best place, 0 to 1: near 0 another place would do as well. */
  readonly certainty: number;
}

/** Pixels of the finest level that is looked at: it places structures to well under a pixel of full size. */
const MAX_FINEST_PIXELS = 1_200_000;
/** Pixels along the longer side of the level on which all shifts and turns are tried, at most. */
const MAX_SEARCHED_SIDE = 400;
/** Turns that are tried, in degrees, and the share of the picture that a shift may be. */
const TURNS = Array.from({ length: 25 }, (_, i) => (i - 12) / 2);
const MAX_SHIFT = 0.25;
/** Places nearer than this many pixels to the best are the best. */
const APART = 6;
/** Places that are refined before the best is taken. */
const MAX_REFINED = 5;
/** σ of the smoothings, in a level's pixels, between which structures are looked at. */
const FINE = 1.6;
const COARSE = 6;
/** Structures count up to so many σ, so that no bright star decides. */
const CLIP = 3;
/** Below these nothing is told. */
const MIN_CORRELATION = 0.2;
const MIN_CERTAINTY = 0.18;
/** A turn by so many degrees more must spoil the correlation as much as another place does, or the turn is not told. */
const OTHER_TURN = 2;

/** Width and height, px. */
interface Size {
  readonly width: number;
  readonly height: number;
}

/** One level of an image: its structures, in units of their own scatter, 0 where there is no data. */
export interface StructureLevel extends Size {
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

/** An image of which structures are compared, and its size, px. */
interface StructureImage extends Size {
  readonly plane: Float32Array;
}

/** Levels on which two images are compared: the finest and the coarsest. Both images have the same, by the larger of them. */
function levelsOf(images: readonly Size[]): { finest: number; coarsest: number } {
  const isLarger = (level: number, limit: (width: number, height: number) => boolean): boolean =>
    images.some(({ width, height }) => limit(levelSize(width, level), levelSize(height, level)));
  let finest = 0;
  while (isLarger(finest, (width, height) => width * height > MAX_FINEST_PIXELS)) finest++;
  let coarsest = finest;
  while (isLarger(coarsest, (width, height) => Math.max(width, height) > MAX_SEARCHED_SIDE)) coarsest++;
  return { finest, coarsest };
}

/** The structures of an image on some levels, the finest first. */
function pyramidOf({ plane, width, height }: StructureImage, finest: number, coarsest: number): StructureLevel[] {
  let [values, w, h] = [plane, width, height];
  const levels: StructureLevel[] = [];
  for (let level = 0; level <= coarsest; level++) {
    if (level > 0) [values, w, h] = [downsample2x(values, w, h), levelSize(w, 1), levelSize(h, 1)];
    if (level >= finest) levels.push(structuresOf(values, w, h));
  }
  return levels;
}

const middleOf = ({ width, height }: Size): [number, number] => [(width - 1) / 2, (height - 1) / 2];

/** Turn by degrees that takes one place to another. */
function turnAbout([x, y]: readonly [number, number], [u, v]: readonly [number, number], degrees: number): Affine {
  const a = (degrees * Math.PI) / 180;
  const [c, s] = [Math.cos(a), Math.sin(a)];
  return { xx: c, xy: -s, tx: u - c * x + s * y, yx: s, yy: c, ty: v - s * x - c * y };
}

/** A level turned about its middle by degrees, of its own size, by nearest pixels: enough to find a place. */
function turnedLevel(level: StructureLevel, degrees: number): Float32Array {
  const { width, height, values } = level;
  if (degrees === 0) return values;
  const back = turnAbout(middleOf(level), middleOf(level), -degrees);
  const out = new Float32Array(values.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = Math.round(back.xx * x + back.xy * y + back.tx);
      const j = Math.round(back.yx * x + back.yy * y + back.ty);
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
  const reach = Math.min(size / 2 - 1, Math.round(MAX_SHIFT * Math.max(reference.width, reference.height)));
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
    if (best.length === MAX_REFINED) break;
  }
  return best;
}

/**
 * The best turn and shift on a level, and how far it stands above the best elsewhere once both are refined. Two turns go through one
 * transform, as its real and its imaginary part.
 */
function searchPlace(
  target: StructureLevel,
  reference: StructureLevel,
  model: AlignModel,
): { found: Refined; certainty: number } {
  const longest = Math.max(target.width, target.height, reference.width, reference.height);
  const size = 2 ** Math.ceil(Math.log2(longest * (1 + MAX_SHIFT)));
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
  const [own, [u, v]] = [middleOf(target), middleOf(reference)];
  const refined = bestPlaces(places)
    .map(({ degrees, dx, dy }) => refineMap(target, reference, turnAbout(own, [u + dx, v + dy], degrees), model))
    .sort((a, b) => b.correlation - a.correlation);
  if (refined.length === 0)
    return { found: refineMap(target, reference, turnAbout(own, [u, v], 0), model), certainty: 0 };
  const [found, ...others] = refined;
  const { map, correlation } = found;
  const [x, y] = mapPoint(map, ...own);
  const elsewhere = others.find((other) => {
    const [p, q] = mapPoint(other.map, ...own);
    return Math.hypot(p - x, q - y) > APART / 2;
  });
  const turned =
    model === 'shift'
      ? []
      : [-OTHER_TURN, OTHER_TURN].map((degrees) =>
          correlationUnder(target, reference, compose(turnAbout(own, own, degrees), map)),
        );
  const next = Math.max(0, elsewhere?.correlation ?? 0, ...turned);
  return { found, certainty: correlation > 0 ? 1 - next / correlation : 0 };
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
 * Aligns by the structures that both images show: gas, galaxies and stars alike. All shifts up to a quarter of the picture and turns up to six
 * degrees are tried on a coarse level; the best one is refined level by level by least squares (Lucas & Kanade 1981), with the size where
 * the model has one.
 * @throws UserError where the images show nothing in common, or several places would do
 */
export function alignStructures(
  target: StructureImage,
  reference: StructureImage,
  model: AlignModel,
): StructureAlignment {
  const { finest, coarsest } = levelsOf([target, reference]);
  const [mine, theirs] = [target, reference].map((image) => pyramidOf(image, finest, coarsest));
  const last = coarsest - finest;
  const { found: start, certainty } = searchPlace(mine[last], theirs[last], model);
  let found = start;
  for (let k = last - 1; k >= 0; k--) found = refineMap(mine[k], theirs[k], finer(found.map), model);
  const { map, correlation } = found;
  if (!(correlation >= MIN_CORRELATION) || !(certainty >= MIN_CERTAINTY))
    throw new UserError(
      'align-no-structures',
      `The structures of the two images do not match well enough (correlation ${Math.max(0, correlation).toFixed(2)}, certainty ${Math.max(0, certainty).toFixed(2)}). Align by WCS or by stars, or place it manually.`,
    );
  const n = 2 ** finest;
  return { map: finer(map, finest), rms: n * found.error, matched: 0, mirrored: false, correlation, certainty };
}
