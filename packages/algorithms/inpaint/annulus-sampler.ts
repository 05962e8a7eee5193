import { medianMadInPlace } from '@owl-loom/image/stats/quickselect';

/** Pixels about a star, by their places from its middle. Their arrays are used again by the next that are asked for. */
export interface Ring {
  readonly dx: Float32Array;
  readonly dy: Float32Array;
  readonly v: Float32Array;
  readonly count: number;
}

/** Room for the pixels about one star, which is asked about tens of thousands of times. */
export class AnnulusSampler {
  private dx = new Float32Array(1024);
  private dy = new Float32Array(1024);
  private v = new Float32Array(1024);
  private scratch = new Float32Array(1024);

  constructor(
    private readonly plane: Float32Array,
    private readonly width: number,
    private readonly height: number,
  ) {}

  /** Pixels between two distances from a place, as many as are asked for, spread over all of them. */
  ring(x: number, y: number, from: number, to: number, max = Number.POSITIVE_INFINITY): Ring {
    const { plane, width, height } = this;
    this.grow(Math.ceil(2 * to + 3) ** 2);
    const every = Math.max(1, Math.ceil((Math.PI * (to * to - from * from)) / max));
    const [min, greatest] = [from * from, to * to];
    let [met, count] = [0, 0];
    for (let j = Math.max(0, Math.ceil(y - to)); j <= Math.min(height - 1, y + to); j++) {
      for (let i = Math.max(0, Math.ceil(x - to)); i <= Math.min(width - 1, x + to); i++) {
        const d2 = (i - x) ** 2 + (j - y) ** 2;
        if (d2 <= min || d2 > greatest || met++ % every !== 0) continue;
        const v = plane[j * width + i];
        if (v !== v) continue;
        this.dx[count] = i - x;
        this.dy[count] = j - y;
        this.v[count++] = v;
      }
    }
    return { dx: this.dx, dy: this.dy, v: this.v, count };
  }

  /** Median, and 1.4826 × MAD about it, of the first values of a list; both NaN where there are none. */
  middle(values: Float32Array, count: number): { middle: number; scatter: number } {
    const list = this.scratch.subarray(0, count);
    list.set(values.subarray(0, count));
    const { middle, sigma } = medianMadInPlace(list);
    return { middle, scatter: sigma };
  }

  private grow(room: number): void {
    if (room <= this.v.length) return;
    this.dx = new Float32Array(room);
    this.dy = new Float32Array(room);
    this.v = new Float32Array(room);
    this.scratch = new Float32Array(room);
  }
}

/** What lies around a star, as a plane: its level in the star's middle, how it rises, and the scatter about it. */
export interface Ground {
  readonly level: number;
  readonly along: number;
  readonly up: number;
  readonly scatter: number;
}

/** The plane through what lies around a star, its own neighbours left out. The ring's values are levelled by it. */
export function groundOf(around: Ring, noise: number, room: AnnulusSampler): Ground {
  const { dx, dy, v, count } = around;
  const rough = room.middle(v, count);
  const limit = 3 * Math.max(noise, rough.scatter);
  let [xx, yy, xv, yv] = [0, 0, 0, 0];
  for (let i = 0; i < count; i++) {
    const off = v[i] - rough.middle;
    if (!(Math.abs(off) < limit)) continue;
    xx += dx[i] * dx[i];
    yy += dy[i] * dy[i];
    xv += dx[i] * off;
    yv += dy[i] * off;
  }
  const [along, up] = [xv / xx, yv / yy];
  for (let i = 0; i < count; i++) v[i] -= along * dx[i] + up * dy[i];
  const { middle, scatter } = room.middle(v, count);
  return { level: middle, along, up, scatter: Math.max(noise, scatter) };
}

/**
 * Where what is left of a star ends: from there on three rings after another scatter no more than those further out and go on at one
 * level with them. Gas may slope and bend meanwhile.
 */
export function residualExtent(x: number, y: number, reach: number, noise: number, room: AnnulusSampler): number {
  const rings: { middle: number; scatter: number; count: number }[] = [];
  const ringAt = (r: number) => {
    while (rings.length <= r) {
      const { v, count } = room.ring(x, y, rings.length, rings.length + 1);
      rings.push(count > 0 ? { ...room.middle(v, count), count } : { middle: Number.NaN, scatter: 0, count });
    }
    return rings[r];
  };
  const quiet = (r: number): boolean => {
    const [own, beyond] = [ringAt(r), ringAt(r + 3)];
    if (own.count < 4 || beyond.count < 4) return true;
    const scatter = Math.max(noise, beyond.scatter);
    return (
      Math.abs(own.middle - beyond.middle) < Math.max(0.4, 3 / Math.sqrt(own.count)) * scatter &&
      own.scatter < 1.5 * scatter
    );
  };
  let radius = 1;
  while (radius < reach && !(quiet(radius) && quiet(radius + 1) && quiet(radius + 2))) radius++;
  return radius;
}
