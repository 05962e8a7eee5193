/** Repeatable random numbers for made-up images. */
export function randomFrom(seed: number): { next(): number; normal(): number } {
  let state = seed >>> 0;
  const next = () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), state | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
  return { next, normal: () => Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next()) };
}

/** A scene of smooth clouds and Gaussian stars over a sky, without noise: `sky` far from everything, up to about `height` above it. */
export function scene(
  seed: number,
  width: number,
  height: number,
  { sky = 0.02, clouds = 0.02, stars = 60 } = {},
): Float32Array {
  const random = randomFrom(seed);
  const out = new Float32Array(width * height);
  const waves = Array.from({ length: 6 }, () => ({
    kx: (random.next() * 8) / width,
    ky: (random.next() * 8) / height,
    phase: random.next() * 6.28,
  }));
  const points = Array.from({ length: stars }, () => ({
    x: random.next() * width,
    y: random.next() * height,
    peak: Math.min(0.8, 0.01 * (1 - random.next()) ** -1.2),
  }));
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let c = 0;
      for (const { kx, ky, phase } of waves) c += Math.sin(6.28 * (kx * x + ky * y) + phase);
      out[y * width + x] = sky + clouds * Math.max(0, c / 3) ** 2;
    }
  }
  for (const star of points) {
    for (let y = Math.max(0, Math.floor(star.y - 9)); y < Math.min(height, star.y + 9); y++) {
      for (let x = Math.max(0, Math.floor(star.x - 9)); x < Math.min(width, star.x + 9); x++) {
        out[y * width + x] += star.peak * Math.exp(-((x - star.x) ** 2 + (y - star.y) ** 2) / (2 * 1.5 ** 2));
      }
    }
  }
  return out;
}

/** `a + b·image` with white noise of σ. */
export function addNoise(image: Float32Array, a: number, b: number, sigma: number, seed: number): Float32Array {
  const random = randomFrom(seed);
  return image.map((v) => a + b * v + sigma * random.normal());
}
