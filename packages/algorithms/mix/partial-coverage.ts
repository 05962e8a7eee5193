import type { Tally } from '@owl-loom/image/pixel-function';
import { type Term, weightedSumOfValid } from '@owl-loom/image/kernels/weighted-sum';

/** Pixels that only some images cover, each counted once, however many planes are made of them. */
export class PartialCoverageTally {
  private marks: Float32Array | undefined;
  private count = 0;

  constructor(private readonly length: number) {}

  /** The weighted sum of planes, or their weighted mean where shares are taken, over those that have data at each pixel. */
  weigh(planes: readonly Float32Array[], parts: readonly Term[], share: boolean, target: Float32Array): void {
    this.count += weightedSumOfValid(planes, parts, share, target, () => {
      this.marks ??= new Float32Array(this.length);
      return this.marks;
    });
  }

  /** Counts them. */
  tell(tally: Tally): void {
    if (this.count > 0) tally('partly-covered', this.count);
  }
}
