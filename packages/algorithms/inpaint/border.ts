/** A peak by its pixel, and its value. */
interface Peak {
  readonly x: number;
  readonly y: number;
  readonly top: number;
}

/** Whether all neighbours that have data are lower; of equal ones the first in reading order is taken. */
function isTop(plane: Float32Array, width: number, height: number, x: number, y: number): boolean {
  const top = plane[y * width + x];
  for (let j = Math.max(0, y - 1); j <= Math.min(height - 1, y + 1); j++) {
    for (let i = Math.max(0, x - 1); i <= Math.min(width - 1, x + 1); i++) {
      const v = plane[j * width + i];
      if (v > top || (v === top && (j < y || (j === y && i < x)))) return false;
    }
  }
  return true;
}

/** Side of the cells by which it is told where nothing ends. */
const CELL = 64;

/** A cell's pixels: from left up to right, from foot up to top. */
interface Cell {
  readonly left: number;
  readonly right: number;
  readonly foot: number;
  readonly top: number;
}

/** The cells so near to the frame's edge, or to a pixel without data, that what is in them may be cut off. */
function cellsByTheEnd(plane: Float32Array, width: number, height: number, reach: number): Cell[] {
  const [columns, rows] = [Math.ceil(width / CELL), Math.ceil(height / CELL)];
  const holed = new Uint8Array(columns * rows);
  for (let y = 0, at = 0; y < height; y++) {
    const row = Math.floor(y / CELL) * columns;
    for (let x = 0; x < width; x++, at++) if (plane[at] !== plane[at]) holed[row + Math.floor(x / CELL)] = 1;
  }
  // One pixel more: the circle's points are rounded.
  const far = Math.ceil((reach + 1) / CELL);
  const nearHole = (c: number, r: number): boolean => {
    for (let j = Math.max(0, r - far); j <= Math.min(rows - 1, r + far); j++)
      for (let i = Math.max(0, c - far); i <= Math.min(columns - 1, c + far); i++)
        if (holed[j * columns + i]) return true;
    return false;
  };
  return Array.from({ length: columns * rows }, (_, k): Cell => {
    const [left, foot] = [(k % columns) * CELL, Math.floor(k / columns) * CELL];
    return { left, foot, right: Math.min(width, left + CELL), top: Math.min(height, foot + CELL) };
  }).filter(
    ({ left, right, foot, top }) =>
      left <= reach ||
      foot <= reach ||
      right + reach >= width ||
      top + reach >= height ||
      nearHole(left / CELL, foot / CELL),
  );
}

const COMPASS = Array.from(
  { length: 16 },
  (_, k) => [Math.cos((k * Math.PI) / 8), Math.sin((k * Math.PI) / 8)] as const,
);

/**
 * Peaks so near to where an image ends, at its frame or at a hole in its data, that a circle about them is cut off: stars there are in no
 * list, since their light cannot be summed.
 * @param min value from which a peak counts
 * @param radius of the circle in pixels; peaks nearer to each other than half of it are one
 * @returns the brightest first
 */
export function borderPeaks(plane: Float32Array, width: number, height: number, min: number, radius: number): Peak[] {
  const reach = Math.ceil(radius);
  const isCut = (x: number, y: number): boolean =>
    COMPASS.some(([dx, dy]) => {
      const [i, j] = [Math.round(x + reach * dx), Math.round(y + reach * dy)];
      return i < 0 || j < 0 || i >= width || j >= height || Number.isNaN(plane[j * width + i]);
    });
  const found: Peak[] = [];
  for (const { left, right, foot, top: end } of cellsByTheEnd(plane, width, height, reach)) {
    for (let y = foot; y < end; y++) {
      for (let x = left; x < right; x++) {
        const top = plane[y * width + x];
        if (top >= min && isTop(plane, width, height, x, y) && isCut(x, y)) found.push({ x, y, top });
      }
    }
  }
  const single: Peak[] = [];
  for (const peak of found.sort((a, b) => b.top - a.top))
    if (!single.some((other) => Math.hypot(other.x - peak.x, other.y - peak.y) < radius / 2)) single.push(peak);
  return single;
}
