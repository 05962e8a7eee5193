import type { Rect } from '../raster/rect';
import { middleOfSorted } from '../stats/middle';
import { fitPolynomial, modelAt, termCount } from './model';

/** A square box on the background: its middle and side, full-size pixels. */
export interface Box {
  readonly x: number;
  readonly y: number;
  readonly size: number;
}

/** A box with what was found in it. */
export interface BoxLevel extends Box {
  /** Sky in the box: the median of the pixels that are left when stars are cut off. */
  readonly value: number;
  /** How uneven the box is, 1.4826 × MAD. */
  readonly scatter: number;
  readonly pixels: number;
}

/**
 * The sky in a box. Pixels more than 2.5 σ above the median are stars.
 * @param rect where the plane lies
 * @returns undefined where less than half of the box has data
 */
export function boxLevel(plane: Float32Array, rect: Rect, box: Box): BoxLevel | undefined {
  const half = box.size / 2;
  const from = (v: number, low: number) => Math.max(low, Math.ceil(v - half + 0.5));
  const to = (v: number, low: number, length: number) => Math.min(low + length - 1, Math.floor(v + half - 0.5));
  const list: number[] = [];
  for (let y = from(box.y, rect.y); y <= to(box.y, rect.y, rect.height); y++) {
    for (let x = from(box.x, rect.x); x <= to(box.x, rect.x, rect.width); x++) {
      const v = plane[(y - rect.y) * rect.width + x - rect.x];
      if (v === v) list.push(v);
    }
  }
  if (list.length < 4 || list.length < (box.size * box.size) / 2) return undefined;
  let kept = Float32Array.from(list).sort();
  let value = middleOfSorted(kept);
  let scatter = 0;
  for (let round = 0; round < 6; round++) {
    scatter = 1.4826 * middleOfSorted(kept.map((v) => Math.abs(v - value)).sort());
    const next = kept.filter((v) => v <= value + 2.5 * scatter);
    if (next.length === kept.length || next.length < 4) break;
    kept = next;
    value = middleOfSorted(kept);
  }
  return { ...box, value, scatter, pixels: kept.length };
}

/** Boxes across the longer side. */
const ACROSS = 18;

/** A grid of boxes over the picture. */
export function gridOf(rect: Rect): Box[] {
  const apart = Math.max(rect.width, rect.height) / ACROSS;
  const size = Math.max(6, Math.min(96, Math.round(apart / 2.2)));
  const columns = Math.max(3, Math.round(rect.width / apart));
  const rows = Math.max(3, Math.round(rect.height / apart));
  const inset = size / 2 + 2;
  const along = (low: number, length: number, i: number, n: number) =>
    low + inset + (i * (length - 1 - 2 * inset)) / (n - 1);
  return Array.from({ length: columns * rows }, (_, k) => ({
    x: Math.round(along(rect.x, rect.width, k % columns, columns)),
    y: Math.round(along(rect.y, rect.height, Math.floor(k / columns), rows)),
    size,
  }));
}

const quantile = (values: readonly number[], q: number): number =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(q * values.length))];

/** Boxes smoother than this many times the quiet ones pass; gas and crowds of stars are rougher. */
const ROUGH = 1.6;

/**
 * Chooses the boxes that show sky and nothing else: rough ones go first, then, round by round, those that stand above a smooth surface
 * through the rest by more than the boxes below it scatter. Nothing is darker than the sky, so the lower side tells what is sky.
 */
export function chooseBoxes(plane: Float32Array, rect: Rect): BoxLevel[] {
  const all = gridOf(rect).flatMap((box) => boxLevel(plane, rect, box) ?? []);
  if (all.length < termCount(2) + 2) return all;
  const quiet = quantile(
    all.map((b) => b.scatter),
    0.2,
  );
  const smooth = all.filter((b) => b.scatter <= ROUGH * quiet);
  let kept = smooth.length >= termCount(2) + 4 ? smooth : all;
  for (let round = 0; round < 40; round++) {
    const surface = fitPolynomial(kept, round < 4 ? 1 : 2, rect);
    const off = kept.map((b) => b.value - modelAt(surface, b.x, b.y));
    const below = off.filter((r) => r < 0).map((r) => -r);
    const sure = (1.2533 * quiet) / Math.sqrt(kept[0].pixels);
    const sigma = Math.max(sure, 1.4826 * quantile(below, 0.5));
    const next = kept.filter((_, i) => off[i] <= 2 * sigma);
    if (next.length === kept.length && round >= 4) break;
    if (next.length < Math.max(termCount(2) + 4, 0.12 * all.length)) break;
    kept = next;
  }
  return kept;
}
