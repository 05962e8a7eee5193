import { capitalise } from '@owl-loom/base/join-words';
import type { Mask } from '@owl-loom/recipe/schema';
import type { Brush } from '../../store/view';
import { resizeRect } from './resize-handles';

/** A stroke or shape that lies on a mask, as the recipe has it. */
export type Paint = NonNullable<Mask['paint']>[number];

interface Spot {
  readonly x: number;
  readonly y: number;
}

export const tenth = (v: number): number => Math.round(10 * v) / 10;
const pair = ({ x, y }: Spot): [number, number] => [tenth(x), tenth(y)];

/** How far a place lies from the straight way between two others. */
function offLine({ x, y }: Spot, from: Spot, to: Spot): number {
  const [dx, dy] = [to.x - from.x, to.y - from.y];
  const length = Math.hypot(dx, dy);
  return length === 0 ? Math.hypot(x - from.x, y - from.y) : Math.abs(dx * (from.y - y) - dy * (from.x - x)) / length;
}

/** A way in fewer places, none of those left out further from it than the tolerance (Douglas and Peucker 1973). */
export function simplified(way: readonly Spot[], tolerance: number): readonly Spot[] {
  if (way.length < 3) return way;
  const [first, last] = [way[0], way[way.length - 1]];
  const inner = way.slice(1, -1);
  const off = inner.map((spot) => offLine(spot, first, last));
  const max = Math.max(...off);
  if (max <= tolerance) return [first, last];
  const at = off.indexOf(max) + 1;
  return [...simplified(way.slice(0, at + 1), tolerance).slice(0, -1), ...simplified(way.slice(at), tolerance)];
}

/** Shapes smaller than so many pixels across are slips of the hand. */
const LEAST = 2;

/**
 * What the hand has drawn, as the recipe has it; nothing where it is too small to be meant.
 * @param way of the pen in frame pixels
 * @param grain frame pixels that the eye cannot tell apart at the present zoom
 */
export function shapeOf(way: readonly Spot[], brush: Brush, grain: number): Paint | undefined {
  const { mode, soft, strength, shape } = brush;
  const [from, to] = [way[0], way[way.length - 1]];
  if (!from || Math.max(...way.map((spot) => Math.hypot(spot.x - from.x, spot.y - from.y))) < LEAST) return undefined;
  const common = { mode, ...(strength < 1 && { strength }) };
  const edge = soft > 0 ? { soft: tenth(soft) } : {};
  if (shape === 'ramp') return { ...common, shape, from: pair(from), to: pair(to) };
  if (shape === 'ellipse') {
    const rect = { x: Math.min(from.x, to.x), y: Math.min(from.y, to.y) };
    const [width, height] = [Math.abs(to.x - from.x), Math.abs(to.y - from.y)];
    return width < LEAST || height < LEAST
      ? undefined
      : { ...common, ...edge, shape, x: tenth(rect.x), y: tenth(rect.y), width: tenth(width), height: tenth(height) };
  }
  const corners = simplified([...way, from], grain).slice(0, -1);
  return corners.length < 3 ? undefined : { ...common, ...edge, shape: 'polygon', points: corners.map(pair) };
}

/** A shape moved by a distance in frame pixels. */
export function movedBy(paint: Paint, dx: number, dy: number): Paint {
  const by = ([x, y]: readonly number[]): [number, number] => [tenth(x + dx), tenth(y + dy)];
  switch (paint.shape) {
    case 'ellipse':
      return { ...paint, x: tenth(paint.x + dx), y: tenth(paint.y + dy) };
    case 'ramp':
      return { ...paint, from: by(paint.from), to: by(paint.to) };
    case 'polygon':
      return { ...paint, points: paint.points.map(by) };
    case 'stroke':
      return {
        ...paint,
        points: paint.points.map((point) => {
          const [x, y] = by(point);
          return point.length === 3 ? [x, y, point[2]] : [x, y];
        }),
      };
  }
}

/** The places by which a shape is pulled: corners of an ellipse's rectangle and of a polygon, the ends of a ramp. */
export function handlesOf(paint: Paint): readonly Spot[] {
  switch (paint.shape) {
    case 'ellipse': {
      const { x, y, width, height } = paint;
      return [
        { x, y },
        { x: x + width, y },
        { x, y: y + height },
        { x: x + width, y: y + height },
      ];
    }
    case 'ramp':
      return [paint.from, paint.to].map(([x, y]) => ({ x, y }));
    case 'polygon':
      return paint.points.map(([x, y]) => ({ x, y }));
    case 'stroke':
      return [];
  }
}

const CORNERS = ['left-foot', 'right-foot', 'left-top', 'right-top'] as const;

/** A shape with one of its handles pulled by a distance. */
export function pulledBy(paint: Paint, handle: number, dx: number, dy: number): Paint {
  if (paint.shape === 'ellipse') {
    const { x, y, width, height } = resizeRect(paint, CORNERS[handle], dx, dy);
    return { ...paint, x: tenth(x), y: tenth(y), width: tenth(width), height: tenth(height) };
  }
  const by = ([x, y]: readonly [number, number]): [number, number] => [tenth(x + dx), tenth(y + dy)];
  if (paint.shape === 'ramp') return handle === 0 ? { ...paint, from: by(paint.from) } : { ...paint, to: by(paint.to) };
  if (paint.shape === 'polygon')
    return { ...paint, points: paint.points.map((point, i) => (i === handle ? by(point) : point)) };
  return paint;
}

/** The outline of a shape as an SVG path in frame pixels; of a stroke its middle line, of a ramp the way from full to nothing. */
export function outlineOf(paint: Paint): string {
  const line = (points: readonly (readonly number[])[]) => `M${points.map(([x, y]) => `${x} ${y}`).join(' L')}`;
  switch (paint.shape) {
    case 'ellipse': {
      const [rx, ry] = [paint.width / 2, paint.height / 2];
      return `M${paint.x} ${paint.y + ry} a${rx} ${ry} 0 1 0 ${2 * rx} 0 a${rx} ${ry} 0 1 0 ${-2 * rx} 0 Z`;
    }
    case 'ramp':
      return line([paint.from, paint.to]);
    case 'polygon':
      return `${line(paint.points)} Z`;
    case 'stroke':
      return line(paint.points.length === 1 ? [paint.points[0], paint.points[0]] : paint.points);
  }
}

/** A stroke or shape in a few words. */
export const paintName = ({ shape, mode }: Paint): string =>
  `${capitalise(shape)}: ${mode === 'hide' ? 'hide' : 'show'}`;
