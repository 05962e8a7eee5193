/** Lobes of the kernel on each side: Lanczos-3 (Duchon 1979). */
export const LOBES = 3;
/**
 * Positions are taken to this part of a pixel: else one that falls on a pixel in one window falls a rounding error short of it in another,
 * and is held within other neighbours.
 */
export const POSITION_QUANTUM = 2 ** 20;

/** Positions between two pixels for which weights are kept. */
export const STEPS = 2048;

const sinc = (x: number): number => (Math.abs(x) < 1e-12 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x));
/** The kernel's value at a distance in pixels. */
export const lanczos = (x: number): number => (Math.abs(x) < LOBES ? sinc(x) * sinc(x / LOBES) : 0);

/** Six weights, their sum 1, for each of the positions between two pixels; between two entries a straight line is true to 3e-7. */
export const TABLE = new Float32Array((STEPS + 1) * 6);
for (let s = 0; s <= STEPS; s++) {
  const raw = Array.from({ length: 6 }, (_, k) => lanczos(k - 2 - s / STEPS));
  const sum = raw.reduce((a, b) => a + b, 0);
  raw.forEach((w, k) => {
    TABLE[s * 6 + k] = w / sum;
  });
}
