import { type Affine, invertAffine, mapPoint } from '@owl-loom/image/geometry/affine';
import { moffat } from '@owl-loom/algorithms/stars/moffat';
import { randomFrom } from './random';

/** A star of a made field, in the field's own pixels, with its light in each filter. */
export interface FieldStar {
  readonly x: number;
  readonly y: number;
  /** Height of its peak in a filter of FWHM 3, by filter. */
  readonly peak: Readonly<Record<string, number>>;
}

/** A made field: its stars, and its gas as light at a point, by filter. */
export interface Field {
  readonly width: number;
  readonly height: number;
  readonly stars: readonly FieldStar[];
  readonly gas: (filter: string, x: number, y: number) => number;
}

/** How a filter sees a field. */
export interface View {
  readonly fwhm: number;
  readonly noise: number;
  readonly seed: number;
  readonly sky?: number;
  readonly beta?: number;
  /** Light pollution that rises across the image, from corner to corner. */
  readonly glow?: number;
  /** Field pixel to image pixel. */
  readonly map?: Affine;
}

const gaussian = (x: number, y: number, sx: number, sy = sx): number =>
  Math.exp(-(x * x) / (2 * sx * sx) - (y * y) / (2 * sy * sy));

/** A turn about the middle by degrees, a size and a shift, as a map from field to image pixels. */
export function turned(width: number, height: number, degrees: number, size = 1, dx = 0, dy = 0): Affine {
  const a = (degrees * Math.PI) / 180;
  const [c, s] = [size * Math.cos(a), size * Math.sin(a)];
  const [cx, cy] = [(width - 1) / 2, (height - 1) / 2];
  return { xx: c, xy: -s, tx: cx + dx - c * cx + s * cy, yx: s, yy: c, ty: cy + dy - s * cx - c * cy };
}

/** What a filter sees of a field: gas, then stars as Moffat's profile summed over each pixel, glow, sky and noise. */
export function seen(field: Field, filter: string, view: View): Float32Array {
  const { width, height, gas, stars } = field;
  const { fwhm, noise, seed, sky = 0.03, beta = 4, glow = 0, map } = view;
  const back = map && invertAffine(map);
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [u, v] = back ? mapPoint(back, x, y) : [x, y];
      out[y * width + x] = sky + glow * ((x / width + y / height) / 2) ** 1.5 + gas(filter, u, v);
    }
  const profile = moffat(fwhm, beta);
  for (const star of stars) {
    const peak = (star.peak[filter] ?? 0) * (3 / fwhm) ** 2;
    const [x, y] = map ? mapPoint(map, star.x, star.y) : [star.x, star.y];
    const reach = Math.min(120, Math.ceil(fwhm * (1 + (peak / (0.02 * noise)) ** (1 / (2 * beta)))));
    for (let j = Math.max(0, Math.floor(y - reach)); j <= Math.min(height - 1, y + reach); j++)
      for (let i = Math.max(0, Math.floor(x - reach)); i <= Math.min(width - 1, x + reach); i++) {
        let sum = 0;
        for (const b of [-1 / 3, 0, 1 / 3])
          for (const a of [-1 / 3, 0, 1 / 3]) sum += profile(Math.hypot(i + a - x, j + b - y));
        out[j * width + i] += (peak * sum) / 9;
      }
  }
  const random = randomFrom(seed);
  for (let i = 0; i < out.length; i++) out[i] = Math.min(1, out[i] + noise * random.normal());
  return out;
}

/** Stars of a field: faint ones many, bright ones few; each filter gets its share, scattered by the stars' colours. */
export function fieldStars(
  seed: number,
  { width, height, count, faintest }: { width: number; height: number; count: number; faintest: number },
  shares: Readonly<Record<string, number>>,
): FieldStar[] {
  const random = randomFrom(seed);
  return Array.from({ length: count }, () => {
    const [x, y] = [width * random.next(), height * random.next()];
    const peak = Math.min(1.2, faintest * (1 - random.next()) ** -0.9);
    const colour = random.normal();
    return {
      x,
      y,
      peak: Object.fromEntries(
        Object.entries(shares).map(([filter, share], i) => [filter, peak * share * Math.exp(0.12 * colour * (i - 1))]),
      ),
    };
  });
}

/**
 * A spiral galaxy with ninety knots of gas along its arms, beside a nebula: filters L, R, G, B, Ha, OIII. Knots are as small as 1.3 pixels σ.
 * @param unit pixels that a length of 1 at 1500 x 1000 takes
 */
export function spiral(seed: number, width: number, height: number): Field {
  const unit = width / 1500;
  const random = randomFrom(seed);
  const [cx, cy] = [0.42 * width, 0.52 * height];
  const knots = Array.from({ length: 90 }, (_, k) => {
    const r = (60 + 300 * random.next()) * unit;
    const a = (k % 2) * Math.PI + 2.1 * Math.log(r / (40 * unit)) + 0.25 * random.normal();
    return {
      x: cx + r * Math.cos(a),
      y: cy + 0.7 * r * Math.sin(a),
      s: 1.3 + 3.2 * random.next() ** 2,
      peak: 0.012 + 0.05 * random.next() ** 3,
    };
  });
  const cells = new Map<string, typeof knots>();
  for (const knot of knots)
    for (let j = -1; j <= 1; j++)
      for (let i = -1; i <= 1; i++) {
        const key = `${Math.floor(knot.x / 32) + i} ${Math.floor(knot.y / 32) + j}`;
        cells.set(key, [...(cells.get(key) ?? []), knot]);
      }
  const disc: Record<string, number> = { L: 0.05, R: 0.018, G: 0.016, B: 0.015, Ha: 0.004, OIII: 0.002 };
  const emission: Record<string, number> = { L: 0.25, R: 0.3, G: 0.05, B: 0.06, Ha: 1, OIII: 0.35 };
  return {
    width,
    height,
    stars: fieldStars(
      seed + 1,
      { width, height, count: Math.round(260 * unit * unit), faintest: 0.012 },
      { L: 1, R: 0.4, G: 0.37, B: 0.35, Ha: 0.12, OIII: 0.06 },
    ),
    gas: (filter, x, y) => {
      const [u, v] = [(x - cx) / unit, (y - cy) / (0.7 * unit)];
      const r = Math.hypot(u, v);
      const arm = 0.5 + 0.5 * Math.cos(2 * (Math.atan2(v, u) - 2.1 * Math.log(Math.max(8, r) / 40)));
      let light = (disc[filter] ?? 0) * (Math.exp(-r / 14) * 2 + Math.exp(-r / 95) * (0.3 + arm * arm));
      const lines = emission[filter] ?? 0;
      light +=
        lines *
        0.02 *
        gaussian(x - 0.82 * width, y - 0.7 * height, 110 * unit, 70 * unit) *
        (0.7 + 0.3 * Math.sin(x / (19 * unit)) * Math.cos(y / (23 * unit)));
      for (const knot of cells.get(`${Math.floor(x / 32)} ${Math.floor(y / 32)}`) ?? [])
        light += lines * knot.peak * gaussian(x - knot.x, y - knot.y, knot.s);
      return light;
    },
  };
}

/** Two lines of one nebula with few stars: Ha shows 33 of them above ten noises of 0.001, OIII thirteen; gas has threads and knots. */
export function starPoor(seed: number, width: number, height: number, lumps = 60, widest = 7): Field {
  const unit = width / 1500;
  const random = randomFrom(seed);
  const knots = Array.from({ length: lumps }, () => ({
    x: width * (0.2 + 0.6 * random.next()),
    y: height * (0.2 + 0.6 * random.next()),
    sx: 2 + widest * random.next() ** 2,
    sy: 2 + widest * random.next() ** 2,
    peak: 0.006 + 0.03 * random.next() ** 2,
    oxygen: random.next(),
  }));
  const bend = [26 + 12 * random.next(), 45 + 25 * random.next(), 6 * random.next(), 70 + 60 * random.next()];
  const cells = new Map<string, typeof knots>();
  for (const knot of knots)
    for (let j = -1; j <= 1; j++)
      for (let i = -1; i <= 1; i++) {
        const key = `${Math.floor(knot.x / 40) + i} ${Math.floor(knot.y / 40) + j}`;
        cells.set(key, [...(cells.get(key) ?? []), knot]);
      }
  const stars = Array.from({ length: 33 }, (_, k) => {
    const ha = 0.0105 * (1 - random.next()) ** -0.8;
    // The brightest thirteen are seen in oxygen as well.
    return {
      x: width * (0.04 + 0.92 * random.next()),
      y: height * (0.04 + 0.92 * random.next()),
      ha: Math.min(0.5, k < 13 ? ha * 2.5 : ha),
      k,
    };
  });
  return {
    width,
    height,
    stars: stars.map(({ x, y, ha, k }) => ({ x, y, peak: { Ha: ha, OIII: k < 13 ? 0.62 * ha : 0.1 * ha } })),
    gas: (filter, x, y) => {
      const [u, v] = [(x - 0.5 * width) / unit, (y - 0.5 * height) / unit];
      const r = Math.hypot(u, v);
      const ha =
        0.02 * gaussian(r - 260, 0, 60, 1) * (0.6 + 0.4 * Math.sin(5 * Math.atan2(v, u))) +
        0.01 * gaussian(u, v, 300, 200);
      const thread =
        0.012 *
        Math.max(0, Math.cos(u / bend[0] + 2 * Math.sin(v / bend[1] + bend[2]) + Math.sin(u / bend[3]))) ** 12 *
        gaussian(u, v, 330, 230);
      const oxygen = 0.018 * gaussian(u, v, 190) + 0.35 * thread;
      let light = filter === 'Ha' ? ha + thread : oxygen;
      for (const knot of cells.get(`${Math.floor(x / 40)} ${Math.floor(y / 40)}`) ?? [])
        light +=
          (filter === 'Ha' ? 1 : 0.8 * knot.oxygen) *
          knot.peak *
          gaussian(x - knot.x, y - knot.y, knot.sx * Math.sqrt(unit), knot.sy * Math.sqrt(unit));
      return light;
    },
  };
}

/** A ring nebula under stars, for L, R, G, B and two lines. */
export function ring(seed: number, width: number, height: number): Field {
  const unit = width / 1500;
  const tint: Record<string, [number, number]> = {
    L: [0.05, 0.04],
    R: [0.03, 0.004],
    G: [0.006, 0.016],
    B: [0.006, 0.014],
    Ha: [0.07, 0.002],
    OIII: [0.002, 0.05],
  };
  return {
    width,
    height,
    stars: fieldStars(
      seed,
      { width, height, count: Math.round(300 * unit * unit), faintest: 0.01 },
      { L: 1, R: 0.42, G: 0.36, B: 0.33, Ha: 0.1, OIII: 0.07 },
    ),
    gas: (filter, x, y) => {
      const [u, v] = [(x - 0.5 * width) / unit, (y - 0.48 * height) / unit];
      const r = Math.hypot(u, 1.15 * v);
      const [outer, inner] = tint[filter] ?? [0, 0];
      return (
        outer * gaussian(r - 180, 0, 38, 1) * (0.8 + 0.2 * Math.cos(7 * Math.atan2(v, u))) +
        inner * gaussian(r, 0, 110, 1)
      );
    },
  };
}
