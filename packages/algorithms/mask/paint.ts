import type { PixelFunction } from '@owl-loom/image/pixel-function';
import { toFullSize } from '@owl-loom/image/geometry/level-position';
import type { Raster } from '@owl-loom/image/raster/raster';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { signedDistanceToEllipse, signedDistanceToPolygon, type Point } from './distance';
import { smoothstep } from '@owl-loom/image/math/smoothstep';

/** Where a pen was, and how hard it was pressed there: the share of the stroke's radius, 1 where nothing is said. */
export type PenPoint = readonly [x: number, y: number, pressure?: number];

/** A shape in frame pixels at full size. */
export type Shape =
  | { readonly shape: 'stroke'; readonly radius: number; readonly points: readonly PenPoint[] }
  | {
      readonly shape: 'ellipse';
      readonly x: number;
      readonly y: number;
      readonly width: number;
      readonly height: number;
    }
  | { readonly shape: 'polygon'; readonly points: readonly Point[] }
  | { readonly shape: 'ramp'; readonly from: Point; readonly to: Point };

/** A shape laid on a mask. */
export type Paint = Shape & {
  readonly mode: 'hide' | 'reveal';
  /** 0–1. */
  readonly strength: number;
  /** Pixels over which it falls from full to nothing, half of them on either side of its rim. */
  readonly soft: number;
};

/** How much of the paint a place gets that lies so far inside the rim. */
const fall = (inside: number, soft: number): number =>
  soft > 0 ? smoothstep(inside / soft + 0.5) : inside >= 0 ? 1 : 0;

/** The pixels of a rectangle of a level that lie in a box of full-size positions. */
function within(rect: Rect, level: number, left: number, bottom: number, right: number, top: number): Rect {
  const [n, off] = [2 ** level, (2 ** level - 1) / 2];
  const x = Math.max(rect.x, Math.ceil((left - off) / n));
  const y = Math.max(rect.y, Math.ceil((bottom - off) / n));
  return {
    x,
    y,
    width: Math.min(rect.x + rect.width, Math.floor((right - off) / n) + 1) - x,
    height: Math.min(rect.y + rect.height, Math.floor((top - off) / n) + 1) - y,
  };
}

/** Gives each pixel of a part of a rectangle a value from its place at full size. */
function each(rect: Rect, level: number, part: Rect, deed: (i: number, x: number, y: number) => void): void {
  for (let y = part.y; y < part.y + part.height; y++) {
    const full = toFullSize(y, level);
    for (let x = part.x, i = (y - rect.y) * rect.width + x - rect.x; x < part.x + part.width; x++, i++)
      deed(i, toFullSize(x, level), full);
  }
}

interface Box {
  readonly left: number;
  readonly foot: number;
  readonly right: number;
  readonly head: number;
}

function boxOf(points: readonly (Point | PenPoint)[], margin: number): Box {
  let [left, bottom, right, top] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const [x, y] of points) {
    left = Math.min(left, x);
    bottom = Math.min(bottom, y);
    right = Math.max(right, x);
    top = Math.max(top, y);
  }
  return { left: left - margin, foot: bottom - margin, right: right + margin, head: top + margin };
}

/** How much of a shape each pixel of a rectangle gets: adds nothing outside the part that is given back. */
type Cover = (rect: Rect, level: number, cover: Float64Array) => Rect;

/** How far inside a stroke, by the pen's radius where it was nearest. */
function strokeCover({ radius, points }: Extract<Shape, { shape: 'stroke' }>, soft: number): Cover {
  const box = boxOf(points, radius + soft / 2);
  const ends = points.length === 1 ? [points[0], points[0]] : points;
  return (rect, level, cover) => {
    const part = within(rect, level, box.left, box.foot, box.right, box.head);
    if (part.width <= 0 || part.height <= 0) return part;
    each(rect, level, part, (i) => {
      cover[i] = -Infinity;
    });
    for (let s = 1; s < ends.length; s++) {
      const [a, b] = [ends[s - 1], ends[s]];
      const own = boxOf([a, b], radius + soft / 2);
      const here = within(part, level, own.left, own.foot, own.right, own.head);
      if (here.width <= 0 || here.height <= 0) continue;
      const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
      const long = dx * dx + dy * dy;
      const [thick, more] = [radius * (a[2] ?? 1), radius * ((b[2] ?? 1) - (a[2] ?? 1))];
      each(rect, level, here, (i, x, y) => {
        const t = long > 0 ? Math.min(1, Math.max(0, ((x - a[0]) * dx + (y - a[1]) * dy) / long)) : 0;
        const [u, v] = [x - a[0] - t * dx, y - a[1] - t * dy];
        const inside = thick + t * more - Math.sqrt(u * u + v * v);
        if (inside > cover[i]) cover[i] = inside;
      });
    }
    each(rect, level, part, (i) => {
      cover[i] = fall(cover[i], soft);
    });
    return part;
  };
}

function closedCover(box: Box, soft: number, inside: (x: number, y: number) => number): Cover {
  return (rect, level, cover) => {
    const part = within(rect, level, box.left, box.foot, box.right, box.head);
    each(rect, level, part, (i, x, y) => {
      cover[i] = fall(inside(x, y), soft);
    });
    return part;
  };
}

function coverOf(shape: Shape, soft: number): Cover {
  switch (shape.shape) {
    case 'stroke':
      return strokeCover(shape, soft);
    case 'polygon':
      return closedCover(boxOf(shape.points, soft / 2), soft, (x, y) => signedDistanceToPolygon(x, y, shape.points));
    case 'ellipse': {
      const [a, b] = [shape.width / 2, shape.height / 2];
      const [cx, cy] = [shape.x + a, shape.y + b];
      const corners: Point[] = [
        [shape.x, shape.y],
        [shape.x + shape.width, shape.y + shape.height],
      ];
      return closedCover(boxOf(corners, soft / 2), soft, (x, y) => {
        const [u, v] = [x - cx, y - cy];
        // The rim is no nearer than this; where that is beyond the fall, how far it is tells nothing more.
        const min = (1 - Math.sqrt((u / a) ** 2 + (v / b) ** 2)) * Math.min(a, b);
        return Math.abs(min) > soft / 2 ? min : signedDistanceToEllipse(u, v, a, b);
      });
    }
    case 'ramp': {
      const { from, to } = shape;
      const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
      const long = dx * dx + dy * dy;
      return (rect, level, cover) => {
        each(rect, level, rect, (i, x, y) => {
          cover[i] = smoothstep(1 - ((x - from[0]) * dx + (y - from[1]) * dy) / long);
        });
        return rect;
      };
    }
  }
}

/**
 * Lays paint on a mask, in the order of the list: hiding takes `value · (1 − strength · p)`, revealing
 * `value + (1 − value) · strength · p`. What has no data is revealed as nothing would be, and hidden it stays.
 * On a coarse level no rim is sharper than that level's pixels, as if they had been averaged.
 */
export function paintKernel(list: readonly Paint[], level: number): PixelFunction {
  const softest = level > 0 ? 2 ** level : 0;
  const covers = list.map((paint) => ({
    cover: coverOf(paint, Math.max(paint.soft, softest)),
    strength: paint.strength,
    reveals: paint.mode === 'reveal',
  }));
  let room = new Float64Array(0);
  return ([input]: readonly Raster[], out: Raster) => {
    const { rect } = out;
    const [target] = out.planes;
    target.set(input.planes[0]);
    if (room.length < target.length) room = new Float64Array(target.length);
    for (const { cover, strength, reveals } of covers) {
      const part = cover(rect, level, room);
      for (let y = part.y; y < part.y + part.height; y++) {
        const from = (y - rect.y) * rect.width + part.x - rect.x;
        for (let i = from; i < from + part.width; i++) {
          const by = strength * room[i];
          if (by === 0) continue;
          const v = target[i];
          if (!reveals) target[i] = v * (1 - by);
          else target[i] = v === v ? v + (1 - v) * by : by;
        }
      }
    }
  };
}
