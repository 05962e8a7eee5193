import type { Domain } from '@owl-loom/image/pixel-function';
import type { Raster } from '@owl-loom/image/raster/raster';
import { intersect, type Rect } from '@owl-loom/image/geometry/rect';
import { chromaWeight } from './hue-membership';
import { labPlanes } from './oklab-planes';

/** What of a colour can move: its hue in degrees, OKLab's L, its chroma. */
export const DRIFTS = ['hue', 'lightness', 'chroma'] as const;
export type DriftKind = (typeof DRIFTS)[number];

/** How far each pixel's colour has moved, by what of it; no data where either image has none. */
export type Drift = Readonly<Record<DriftKind, Float32Array>>;

/** From this on a move is one that people notice. */
export const DRIFT_THRESHOLDS: Readonly<Record<DriftKind, number>> = { hue: 5, lightness: 0.02, chroma: 0.02 };

const DEGREES = 180 / Math.PI;

/**
 * How far colours have moved from one image to another of the same pixels. The turn of a hue counts as far as both colours have one: greys,
 * whose hue is noise, do not turn.
 * @param domains of both: stretched numbers are decoded by sRGB, others are light
 */
export function colourDrift(before: Raster, after: Raster, domains: readonly [Domain, Domain]): Drift {
  const [from, to] = [labPlanes(before, domains[0]), labPlanes(after, domains[1])];
  const length = after.planes[0].length;
  const drift = {
    hue: new Float32Array(length),
    lightness: new Float32Array(length),
    chroma: new Float32Array(length),
  };
  for (let i = 0; i < length; i++) {
    const [l0, a0, b0] = [from.l[i], from.a[i], from.b[i]];
    const [l1, a1, b1] = [to.l[i], to.a[i], to.b[i]];
    const [c0, c1] = [Math.sqrt(a0 * a0 + b0 * b0), Math.sqrt(a1 * a1 + b1 * b1)];
    const turn = Math.atan2(a0 * b1 - b0 * a1, a0 * a1 + b0 * b1) * DEGREES;
    const has = chromaWeight(Math.min(c0, c1));
    drift.hue[i] = has > 0 ? turn * has : 0 * (l0 + l1);
    drift.lightness[i] = l1 - l0;
    drift.chroma[i] = c1 - c0;
  }
  return drift;
}

/** How much of a place has moved so far that people notice, as shares of what counts, 0 to 1. */
export interface DriftSummary extends Readonly<Record<DriftKind, number>> {
  /** Where most of it is, for the kind that was asked for; null where nothing has moved. */
  readonly most: Rect | null;
}

/** Parts of a place, a side, among which the one is sought that has moved most. */
const PARTS = 8;

/**
 * Counts what has moved.
 * @param rect where the pixels lie
 * @param kind for which it is told where most of it is
 * @param counts how much each pixel counts, 0 to 1; fully where nothing is said
 */
export function summariseDrift(drift: Drift, rect: Rect, kind: DriftKind, counts?: Float32Array): DriftSummary {
  const side = (length: number) => Math.max(1, Math.ceil(length / PARTS));
  const [w, h] = [side(rect.width), side(rect.height)];
  const parts = new Float64Array(PARTS * PARTS);
  const moved = { hue: 0, lightness: 0, chroma: 0 };
  let all = 0;
  for (let i = 0; i < drift.lightness.length; i++) {
    const count = counts ? counts[i] : 1;
    if (!(count > 0) || Number.isNaN(drift.lightness[i])) continue;
    all += count;
    for (const of of DRIFTS) if (Math.abs(drift[of][i]) > DRIFT_THRESHOLDS[of]) moved[of] += count;
    if (!(Math.abs(drift[kind][i]) > DRIFT_THRESHOLDS[kind])) continue;
    const [x, y] = [i % rect.width, Math.floor(i / rect.width)];
    parts[Math.floor(y / h) * PARTS + Math.floor(x / w)] += count;
  }
  const best = parts.reduce((top, n, i) => (n > parts[top] ? i : top), 0);
  const place = { x: rect.x + (best % PARTS) * w, y: rect.y + Math.floor(best / PARTS) * h, width: w, height: h };
  const share = (of: DriftKind) => (all > 0 ? moved[of] / all : 0);
  return {
    hue: share('hue'),
    lightness: share('lightness'),
    chroma: share('chroma'),
    most: parts[best] > 0 ? intersect(place, rect) : null,
  };
}
