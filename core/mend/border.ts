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

const COMPASS = Array.from(
  { length: 16 },
  (_, k) => [Math.cos((k * Math.PI) / 8), Math.sin((k * Math.PI) / 8)] as const,
);

/**
 * Peaks so near to where an image ends, at its frame or at a hole in its data, that a circle about them is cut off: stars there are in no
 * list, since their light cannot be summed.
 * @param least value from which a peak counts
 * @param radius of the circle in pixels; peaks nearer to each other than half of it are one
 * @returns the brightest first
 */
export function borderPeaks(plane: Float32Array, width: number, height: number, least: number, radius: number): Peak[] {
  const reach = Math.ceil(radius);
  const isCut = (x: number, y: number): boolean =>
    COMPASS.some(([dx, dy]) => {
      const [i, j] = [Math.round(x + reach * dx), Math.round(y + reach * dy)];
      return i < 0 || j < 0 || i >= width || j >= height || Number.isNaN(plane[j * width + i]);
    });
  const found: Peak[] = [];
  for (let y = 0, at = 0; y < height; y++) {
    for (let x = 0; x < width; x++, at++) {
      const top = plane[at];
      if (top >= least && isTop(plane, width, height, x, y) && isCut(x, y)) found.push({ x, y, top });
    }
  }
  const single: Peak[] = [];
  for (const peak of found.sort((a, b) => b.top - a.top))
    if (!single.some((other) => Math.hypot(other.x - peak.x, other.y - peak.y) < radius / 2)) single.push(peak);
  return single;
}
