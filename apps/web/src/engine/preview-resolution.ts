/** While something moves, no picture larger than this is computed. */
const QUICK_PIXELS = 500_000;
/** Nor one smaller than this, if the window is larger: too little would be seen of what moves. */
const LEAST_PIXELS = 60_000;
/** Milliseconds that a quick picture may take in the worker. */
const BUDGET = 65;

/**
 * How large a picture may be while a hand moves: as large as this machine draws this recipe at once. One drawing that took long tells
 * little, since what had stayed as it was may have been made for it; two in a row do.
 */
export class PreviewResolution {
  /** Milliseconds a pixel of the last two quick pictures. */
  private lately: readonly number[] = [];

  /** A quick picture has been drawn. */
  took(milliseconds: number, pixels: number): void {
    if (pixels > 0) this.lately = [...this.lately.slice(-1), milliseconds / pixels];
  }

  /** Another view, another recipe: what was learned of the last does not hold. */
  forget(): void {
    this.lately = [];
  }

  /** The most pixels that the next quick picture should have. */
  get pixels(): number {
    if (this.lately.length < 2) return QUICK_PIXELS;
    return Math.max(LEAST_PIXELS, Math.min(QUICK_PIXELS, BUDGET / Math.min(...this.lately)));
  }
}
