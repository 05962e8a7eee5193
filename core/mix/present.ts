import type { Tally } from '../engine/kernel';
import { type Part, weigh, weighPresent } from '../kernels/weigh';

/** Pixels that only some images cover, once there is one. */
export class PartlyCovered {
  private marks: Float32Array | undefined;

  constructor(private readonly length: number) {}

  get own(): Float32Array {
    this.marks ??= new Float32Array(this.length);
    return this.marks;
  }

  /** Counts them. */
  tell(tally: Tally): void {
    let count = 0;
    if (this.marks) for (let i = 0; i < this.length; i++) count += this.marks[i];
    if (count > 0) tally('partly-covered', count);
  }
}

/**
 * The weighted sum of planes, or their weighted mean where shares are taken, over those that have data at each pixel.
 * @param partly remembers the pixels that only some of them cover
 */
export function weighOver(
  planes: readonly Float32Array[],
  parts: readonly Part[],
  share: boolean,
  target: Float32Array,
  partly: PartlyCovered,
): void {
  const total = (of: (part: Part) => number) => parts.reduce((sum, part) => sum + of(part), 0);
  const over = share ? 1 / total((part) => part.weight) : 1;
  const factors = parts.map((part) => part.factor * over);
  // Where all have data everywhere, as is common, a plain sum does.
  if (weigh(planes, factors, total((part) => part.add) * over, target)) {
    weighPresent(planes, parts, share, target, partly.own);
  }
}
