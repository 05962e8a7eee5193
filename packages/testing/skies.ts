import { randomFrom } from './random';

/** What a made sky is like; everything has a fixed seed. */
export interface SkySpec {
  readonly width: number;
  readonly height: number;
  readonly seed: number;
  readonly stars: number;
  readonly fwhm: number;
  /** Wings of Moffat's profile; a Gaussian where it is left out. */
  readonly beta?: number;
  /** Longer over shorter axis, along the diagonal. */
  readonly stretch?: number;
  /** Whether light is summed over each pixel; else taken at its middle. */
  readonly integrated?: boolean;
  readonly noise?: number;
  /** Light of the faintest star's top, in units of the noise. */
  readonly faintest?: number;
  /** Round and long lumps of gas wider than stars. */
  readonly knots?: number;
  readonly hotColumns?: number;
  readonly hotPixels?: number;
  readonly spikes?: boolean;
  /** σ of a smoothing of the noise, which neighbours then share. */
  readonly correlated?: number;
  /** A border without data that runs aslant. */
  readonly wedge?: boolean;
  /** Stars as rings with a hole, so wide. */
  readonly doughnut?: number;
}

export interface TrueStar {
  readonly x: number;
  readonly y: number;
  readonly peak: number;
}

export interface MadeSky {
  readonly plane: Float32Array;
  readonly width: number;
  readonly height: number;
  readonly truth: readonly TrueStar[];
}

/** A star's profile with its top at 1. */
function profileOf({ fwhm, beta, stretch = 1, doughnut }: SkySpec): (dx: number, dy: number) => number {
  const [long, short] = [Math.sqrt(stretch), 1 / Math.sqrt(stretch)];
  return (dx, dy) => {
    const [u, v] = [(dx + dy) / Math.SQRT2 / long, (dy - dx) / Math.SQRT2 / short];
    const r2 = u * u + v * v;
    if (doughnut !== undefined) return Math.exp(-((Math.sqrt(r2) - doughnut) ** 2) / 2);
    if (beta === undefined) return Math.exp(-4 * Math.log(2) * (r2 / fwhm ** 2));
    return (1 + (4 * (2 ** (1 / beta) - 1) * r2) / fwhm ** 2) ** -beta;
  };
}

/** Adds a profile out to where it sinks below a part of the noise. */
function addStar(
  sky: Float32Array,
  spec: SkySpec,
  star: TrueStar,
  of: (dx: number, dy: number) => number,
  noise: number,
) {
  const { width, height, fwhm, beta = 8, integrated = true, doughnut = 0 } = spec;
  const reach = Math.min(90, Math.ceil(doughnut + fwhm * (1 + (star.peak / (0.02 * noise)) ** (1 / (2 * beta)))));
  const parts = integrated && fwhm < 4 ? 5 : integrated ? 3 : 1;
  for (let y = Math.max(0, Math.floor(star.y - reach)); y <= Math.min(height - 1, star.y + reach); y++) {
    for (let x = Math.max(0, Math.floor(star.x - reach)); x <= Math.min(width - 1, star.x + reach); x++) {
      let sum = 0;
      for (let j = 0; j < parts; j++) {
        for (let i = 0; i < parts; i++)
          sum += of(x - star.x + (i + 0.5) / parts - 0.5, y - star.y + (j + 0.5) / parts - 0.5);
      }
      sky[y * width + x] += (star.peak * sum) / parts ** 2;
    }
  }
}

/** Light of lumps and threads, each wider than any star. */
function addKnots(sky: Float32Array, { width, height, knots = 0 }: SkySpec, noise: number, next: () => number): void {
  for (let k = 0; k < knots; k++) {
    const [cx, cy, height0] = [width * next(), height * next(), noise * (6 + 40 * next())];
    const [a, b, turn] = [2.2 + 6 * next() ** 2, 2.2 + 6 * next() ** 2, Math.PI * next()];
    const reach = Math.ceil(3.5 * Math.max(a, b));
    for (let y = Math.max(0, Math.floor(cy - reach)); y <= Math.min(height - 1, cy + reach); y++) {
      for (let x = Math.max(0, Math.floor(cx - reach)); x <= Math.min(width - 1, cx + reach); x++) {
        const [u, v] = [
          (x - cx) * Math.cos(turn) + (y - cy) * Math.sin(turn),
          (y - cy) * Math.cos(turn) - (x - cx) * Math.sin(turn),
        ];
        sky[y * width + x] += height0 * Math.exp(-(u * u) / (2 * a * a) - (v * v) / (2 * b * b));
      }
    }
  }
}

/** Noise that neighbours share: white noise smoothed, brought back to its σ. */
function noiseOf({ width, height, correlated = 0 }: SkySpec, noise: number, normal: () => number): Float32Array {
  const white = Float32Array.from({ length: width * height }, () => noise * normal());
  if (correlated === 0) return white;
  const reach = Math.ceil(3 * correlated);
  const taps = Array.from({ length: 2 * reach + 1 }, (_, i) => Math.exp(-((i - reach) ** 2) / (2 * correlated ** 2)));
  const norm = Math.sqrt(taps.reduce((sum, t) => sum + t * t, 0));
  const pass = (from: Float32Array, step: number, length: number) =>
    from.map((_, i) => {
      const at = step === 1 ? i % width : Math.floor(i / width);
      let sum = 0;
      for (let k = -reach; k <= reach; k++)
        sum += taps[k + reach] * from[i + step * (((at + k + length) % length) - at)];
      return sum / norm;
    });
  return pass(pass(white, 1, width), width, height);
}

/** A sky with the truth about its stars. */
export function makeSky(spec: SkySpec): MadeSky {
  const { width, height, seed, stars, noise = 0.001, faintest = 12 } = spec;
  const random = randomFrom(seed);
  const sky = new Float32Array(width * height).fill(0.05);
  const truth = Array.from({ length: stars }, () => ({
    x: width * random.next(),
    y: height * random.next(),
    peak: Math.min(0.7, faintest * noise * (1 - random.next()) ** -0.9),
  }));
  const of = profileOf(spec);
  for (const star of truth) addStar(sky, spec, star, of, noise);
  if (spec.spikes) {
    for (const star of truth.filter((s) => s.peak > 200 * noise)) {
      for (let d = -60; d <= 60; d++) {
        for (const [x, y] of [
          [Math.round(star.x) + d, Math.round(star.y)],
          [Math.round(star.x), Math.round(star.y) + d],
        ]) {
          if (x >= 0 && y >= 0 && x < width && y < height)
            sky[y * width + x] += 0.05 * star.peak * Math.exp(-Math.abs(d) / 20);
        }
      }
    }
  }
  addKnots(sky, spec, noise, random.next);
  const grain = noiseOf(spec, noise, random.normal);
  for (let i = 0; i < sky.length; i++) sky[i] += grain[i];
  for (let k = 0; k < (spec.hotColumns ?? 0); k++) {
    const x = Math.floor(width * random.next());
    for (let y = 0; y < height; y++) sky[y * width + x] += 20 * noise;
  }
  for (let k = 0; k < (spec.hotPixels ?? 0); k++) sky[Math.floor(sky.length * random.next())] += 200 * noise;
  if (spec.wedge) {
    for (let y = 0; y < height; y++) sky.fill(Number.NaN, y * width, y * width + Math.floor(10 + 0.1 * y));
  }
  return { plane: sky, width, height, truth };
}

/** Fields unlike each other, each with what is asked of the star finder on it. */
export const SKIES: Readonly<Record<string, SkySpec>> = {
  ordinary: { width: 900, height: 700, seed: 1, stars: 300, fwhm: 3, beta: 4 },
  sharp: { width: 900, height: 700, seed: 2, stars: 300, fwhm: 1.3, beta: 5, faintest: 25 },
  'sharp Gaussians': { width: 900, height: 700, seed: 3, stars: 300, fwhm: 1.3, faintest: 25, integrated: false },
  soft: { width: 900, height: 700, seed: 4, stars: 200, fwhm: 7, beta: 4 },
  'wide wings': { width: 900, height: 700, seed: 5, stars: 250, fwhm: 2.8, beta: 2.3 },
  Gaussians: { width: 900, height: 700, seed: 6, stars: 250, fwhm: 2.6 },
  'more gas than stars': { width: 900, height: 700, seed: 7, stars: 60, fwhm: 2.6, beta: 4, knots: 500, faintest: 20 },
  'twelve stars': { width: 900, height: 700, seed: 8, stars: 12, fwhm: 3.2, beta: 4, faintest: 25 },
  crowded: { width: 2000, height: 1500, seed: 9, stars: 15_000, fwhm: 2.4, beta: 4 },
  elongated: { width: 900, height: 700, seed: 10, stars: 250, fwhm: 3.4, beta: 4, stretch: 1.7 },
  'spikes and hot columns': {
    width: 900,
    height: 700,
    seed: 11,
    stars: 200,
    fwhm: 3,
    beta: 4,
    spikes: true,
    hotColumns: 12,
    hotPixels: 400,
  },
  'correlated noise': {
    width: 900,
    height: 700,
    seed: 12,
    stars: 250,
    fwhm: 3,
    beta: 4,
    correlated: 0.9,
    faintest: 15,
  },
  'a wedge without data': { width: 900, height: 700, seed: 13, stars: 250, fwhm: 3, beta: 4, wedge: true },
};
