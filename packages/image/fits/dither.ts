/** Length of the standard's random sequence. */
const COUNT = 10000;
let sequence: Float64Array | undefined;

/** The random sequence of FITS 4.0 appendix I (Park & Miller): the same in every program. */
function randoms(): Float64Array {
  if (!sequence) {
    sequence = new Float64Array(COUNT);
    let seed = 1;
    for (let i = 0; i < COUNT; i++) {
      seed = (16807 * seed) % 2147483647;
      sequence[i] = seed / 2147483647;
    }
  }
  return sequence;
}

/** Stored for a pixel without data. */
const NULL_VALUE = -2147483647;
/** Stored, by the second dither method, for a pixel that was exactly 0. */
const ZERO_VALUE = -2147483646;

export type DitherMethod = 'NO_DITHER' | 'SUBTRACTIVE_DITHER_1' | 'SUBTRACTIVE_DITHER_2';

/**
 * Quantised integers of one tile back to floating point (FITS 4.0 §10.2).
 * @param tile 1-based number of the tile, by which the dither starts
 * @param seed ZDITHER0, 1 to 10 000
 * @param blank stored integer of no data
 */
export function dequantise(
  stored: ArrayLike<number>,
  scale: number,
  zero: number,
  method: DitherMethod,
  tile: number,
  seed: number,
  blank: number = NULL_VALUE,
): Float64Array {
  const out = new Float64Array(stored.length);
  const random = randoms();
  let start = (tile + seed - 2) % COUNT;
  let next = Math.floor(random[start] * 500);
  for (let i = 0; i < stored.length; i++) {
    const value = stored[i];
    if (value === blank) out[i] = Number.NaN;
    else if (method === 'NO_DITHER') out[i] = value * scale + zero;
    else if (method === 'SUBTRACTIVE_DITHER_2' && value === ZERO_VALUE) out[i] = 0;
    else out[i] = (value - random[next] + 0.5) * scale + zero;
    if (++next === COUNT) {
      start = (start + 1) % COUNT;
      next = Math.floor(random[start] * 500);
    }
  }
  return out;
}
