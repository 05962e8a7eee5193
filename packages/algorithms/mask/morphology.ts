import type { Rect } from '@owl-loom/image/geometry/rect';

/** Half the length of a disc's chord at each distance from its middle, up to its radius. */
function chords(radius: number): number[] {
  const reach = Math.floor(radius);
  return Array.from({ length: reach + 1 }, (_, dy) => Math.floor(Math.sqrt(radius * radius - dy * dy)));
}

/** Pixels about a window that {@link morphDisc} looks at. */
export const growMargin = (radius: number): number => Math.floor(Math.abs(radius));

/**
 * The greatest value within a disc about each pixel, the least where the radius is negative; what has no data counts nowhere, and stays.
 * Each row is widened step by step to the chords of the disc, and laid on the rows that see it by that chord.
 * @param rect where the plane's pixels lie; beyond it there is nothing
 * @param radius pixels: the disc holds those whose middles are no further away
 */
export function morphDisc(plane: Float32Array, rect: Rect, radius: number, window: Rect): Float32Array {
  const sign = radius < 0 ? -1 : 1;
  const size = Math.abs(radius);
  const half = chords(size);
  const { width, height } = window;
  const out = new Float32Array(width * height).fill(Number.NEGATIVE_INFINITY);
  const reach = half[0];
  // A row as wide as the window and its margins; beyond the plane there is nothing.
  const long = width + 2 * reach;
  const row = new Float32Array(long);
  const wide = new Float32Array(width);
  const offset = window.x - reach - rect.x;
  const bottom = Math.max(rect.y, window.y - half.length + 1);
  const top = Math.min(rect.y + rect.height, window.y + height + half.length - 1);
  for (let y = bottom; y < top; y++) {
    const from = (y - rect.y) * rect.width;
    for (let i = 0; i < long; i++) {
      const x = i + offset;
      const v = x >= 0 && x < rect.width ? sign * plane[from + x] : Number.NEGATIVE_INFINITY;
      row[i] = v === v ? v : Number.NEGATIVE_INFINITY;
    }
    for (let i = 0; i < width; i++) wide[i] = row[i + reach];
    let chord = 0;
    // The furthest rows see the shortest chord.
    for (let dy = half.length - 1; dy >= 0; dy--) {
      for (; chord < half[dy]; chord++) {
        const far = chord + 1;
        for (let i = 0; i < width; i++) {
          const v = Math.max(row[i + reach - far], row[i + reach + far]);
          if (v > wide[i]) wide[i] = v;
        }
      }
      for (const to of dy === 0 ? [y] : [y - dy, y + dy]) {
        if (to < window.y || to >= window.y + height) continue;
        const at = (to - window.y) * width;
        for (let i = 0; i < width; i++) if (wide[i] > out[at + i]) out[at + i] = wide[i];
      }
    }
  }
  for (let y = 0; y < height; y++) {
    const from = (y + window.y - rect.y) * rect.width + window.x - rect.x;
    for (let x = 0; x < width; x++) {
      const own = plane[from + x];
      const at = y * width + x;
      out[at] = own === own ? sign * out[at] : Number.NaN;
    }
  }
  return out;
}
