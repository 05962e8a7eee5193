import { Random } from '../demo/random';

/** The shortest of a few runs, in milliseconds. */
export function shortest(runs: number, work: () => void): number {
  let best = Number.POSITIVE_INFINITY;
  for (let i = 0; i < runs; i++) {
    const start = performance.now();
    work();
    best = Math.min(best, performance.now() - start);
  }
  return best;
}

/** A made plane: a sloping sky with noise and lumps; quick to make at any size. */
export function madePlane(width: number, height: number, seed: number): Float32Array {
  const random = new Random(seed);
  // Noise from a table: drawing sixty million normals would take longer than all that is measured.
  const table = Float32Array.from({ length: 65_537 }, () => 0.0006 * random.normal());
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    const shift = Math.floor(random.next() * 65_537);
    for (let x = 0; x < width; x++) {
      const lump = Math.sin(x * 0.0021 + seed) * Math.sin(y * 0.0017 - seed);
      out[y * width + x] = 0.02 + 0.000001 * x + 0.03 * (lump > 0 ? lump * lump : 0) + table[(x + shift) % 65_537];
    }
  }
  return out;
}
