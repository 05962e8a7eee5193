/** The pixels of a disc, by their places from its middle. Arrays are used again: what they hold lasts until the next disc is asked for. */
export interface Disc {
  count: number;
  readonly dx: Float64Array;
  readonly dy: Float64Array;
  readonly r: Float64Array;
  readonly v: Float64Array;
  /** Those that lie in its outer ring, by their numbers. */
  rimCount: number;
  readonly rim: Int32Array;
}

const MOST = 2 ** 17;

let disc: Disc = made(4096);

function made(size: number): Disc {
  const list = () => new Float64Array(size);
  return { count: 0, dx: list(), dy: list(), r: list(), v: list(), rimCount: 0, rim: new Int32Array(size) };
}

/**
 * The pixels with data not further than `reach` from a place.
 * @param inner what lies beyond this is its outer ring
 */
export function collectDisc(
  plane: Float32Array,
  width: number,
  height: number,
  x: number,
  y: number,
  reach: number,
  inner = Number.POSITIVE_INFINITY,
): Disc {
  const max = Math.min(MOST, Math.ceil((2 * reach + 2) ** 2));
  if (disc.v.length < max) disc = made(max);
  let n = 0;
  let rim = 0;
  const [bottom, top] = [Math.max(0, Math.ceil(y - reach)), Math.min(height - 1, Math.floor(y + reach))];
  const [left, right] = [Math.max(0, Math.ceil(x - reach)), Math.min(width - 1, Math.floor(x + reach))];
  const far = reach * reach;
  const near = inner * inner;
  for (let j = bottom; j <= top; j++) {
    const dy = j - y;
    for (let i = left; i <= right; i++) {
      const dx = i - x;
      const d2 = dx * dx + dy * dy;
      const v = plane[j * width + i];
      if (d2 > far || v !== v) continue;
      if (d2 > near) disc.rim[rim++] = n;
      disc.dx[n] = dx;
      disc.dy[n] = dy;
      disc.r[n] = Math.sqrt(d2);
      disc.v[n++] = v;
    }
  }
  disc.count = n;
  disc.rimCount = rim;
  return disc;
}
