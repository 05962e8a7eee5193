import { intersect, type Rect } from './rect';

const RADIANS = Math.PI / 180;

/** Width and height, px. */
interface Size {
  readonly width: number;
  readonly height: number;
}

/**
 * The largest upright rectangle within a rectangle that is turned about its middle.
 * @param degrees of the turn, either way
 */
export function inscribed({ width, height }: Size, degrees: number): Size {
  const sin = Math.abs(Math.sin(degrees * RADIANS));
  const cos = Math.abs(Math.cos(degrees * RADIANS));
  const [long, short] = [Math.max(width, height), Math.min(width, height)];
  // Two corners touch the longer sides where the rectangle is slender, else each side is touched by one.
  if (short <= 2 * sin * cos * long || Math.abs(sin - cos) < 1e-9) {
    const half = short / 2;
    return width >= height ? { width: half / sin, height: half / cos } : { width: half / cos, height: half / sin };
  }
  const twice = cos * cos - sin * sin;
  return { width: (width * cos - height * sin) / twice, height: (height * cos - width * sin) / twice };
}

/** A rectangle of another size about the middle of one, in whole pixels that lie within. */
export function aboutMiddleOf(rect: Rect, { width, height }: Size): Rect {
  const w = Math.max(1, Math.min(rect.width, Math.floor(width)));
  const h = Math.max(1, Math.min(rect.height, Math.floor(height)));
  return {
    x: rect.x + Math.floor((rect.width - w) / 2),
    y: rect.y + Math.floor((rect.height - h) / 2),
    width: w,
    height: h,
  };
}

/** The largest part of a rectangle of data that stands upright, without empty corners, in a picture turned by degrees. */
export const uprightWithin = (data: Rect, degrees: number): Rect =>
  degrees === 0 ? data : aboutMiddleOf(data, inscribed(data, degrees));

/** Pixels about a place that resampling reads. */
const MARGIN = 4;

/**
 * The part of the frame that a turned picture is made from: what a rectangle covers that stands upright in the turned picture, about its own
 * middle.
 */
export function sourceOfTurned(rect: Rect, degrees: number, frame: Rect): Rect {
  if (degrees === 0) return rect;
  const sin = Math.abs(Math.sin(degrees * RADIANS));
  const cos = Math.abs(Math.cos(degrees * RADIANS));
  const [w, h] = [rect.width * cos + rect.height * sin, rect.width * sin + rect.height * cos];
  const [cx, cy] = [rect.x + (rect.width - 1) / 2, rect.y + (rect.height - 1) / 2];
  const x = Math.floor(cx - w / 2) - MARGIN;
  const y = Math.floor(cy - h / 2) - MARGIN;
  return intersect(
    { x, y, width: Math.ceil(cx + w / 2) + MARGIN - x + 1, height: Math.ceil(cy + h / 2) + MARGIN - y + 1 },
    frame,
  );
}

/** Points along a side by which the share of a picture without data is told. */
const POINTS = 200;

/**
 * Share of a turned picture that lies outside of the data, 0 to 1.
 * @param rect of the picture, upright in it about its own middle
 * @param degrees counter-clockwise as seen
 */
export function emptyShare(rect: Rect, degrees: number, data: Rect): number {
  const [c, s] = [Math.cos(degrees * RADIANS), Math.sin(degrees * RADIANS)];
  const [cx, cy] = [rect.x + (rect.width - 1) / 2, rect.y + (rect.height - 1) / 2];
  let outside = 0;
  for (let j = 0; j < POINTS; j++)
    for (let i = 0; i < POINTS; i++) {
      const [u, v] = [((i + 0.5) / POINTS - 0.5) * rect.width, ((j + 0.5) / POINTS - 0.5) * rect.height];
      const [x, y] = [cx + c * u + s * v, cy - s * u + c * v];
      const isInside =
        x >= data.x - 0.5 && y >= data.y - 0.5 && x < data.x + data.width - 0.5 && y < data.y + data.height - 0.5;
      if (!isInside) outside++;
    }
  return outside / POINTS ** 2;
}

/**
 * Whether a place lies in a rectangle that stands upright, about its own middle, in a picture turned by degrees.
 * @param degrees counter-clockwise as seen, as the frame's axes see it
 */
export function isInTurned(rect: Rect, degrees: number): (x: number, y: number) => boolean {
  const [c, s] = [Math.cos(degrees * RADIANS), Math.sin(degrees * RADIANS)];
  const [cx, cy] = [rect.x + (rect.width - 1) / 2, rect.y + (rect.height - 1) / 2];
  const [w, h] = [rect.width / 2, rect.height / 2];
  return (x, y) => {
    const [u, v] = [x - cx, y - cy];
    return Math.abs(c * u - s * v) <= w && Math.abs(s * u + c * v) <= h;
  };
}

/** The free turn of a picture as the frame's axes see it: one flip after it turns it the other way. */
export const turnInFrame = ({ flip = 'none', degrees = 0 }: { flip?: string; degrees?: number } = {}): number =>
  flip === 'horizontal' || flip === 'vertical' ? -degrees : degrees;
