import { addNoise } from '@owl-loom/testing/random';
import { addStar, starField } from '../demo/stars';

/** Size of the fields. */
export const [width, height] = [480, 340];

/** A field of stars over gas, turned about its middle and moved. */
export function field(degrees: number, dx: number, dy: number, gas: number, seed: number): Float32Array {
  const a = (degrees * Math.PI) / 180;
  const [cx, cy] = [(width - 1) / 2, (height - 1) / 2];
  const light = Float64Array.from(
    { length: width * height },
    (_, i) => 0.02 + gas * Math.exp(-(((i % width) - 150) ** 2) / 9000 - (Math.floor(i / width) - 200) ** 2 / 5000),
  );
  for (const { x, y, flux } of starField(71, width, height, 160, 0.05)) {
    const [u, v] = [x - cx, y - cy];
    addStar(
      light,
      width,
      height,
      cx + dx + u * Math.cos(a) - v * Math.sin(a),
      cy + dy + u * Math.sin(a) + v * Math.cos(a),
      flux,
      2.6,
      0.0005,
    );
  }
  return addNoise(
    Float32Array.from(light, (v) => Math.min(1, v)),
    0,
    1,
    0.0006,
    seed,
  );
}
