/** Marked pixels, 1 each, and how many there are. */
export interface PixelMask {
  readonly mask: Uint8Array;
  readonly count: number;
}

/** In a row of pixels: may be marked, and is. */
const [MAY, IS] = [1, 2] as const;

/**
 * Marks the zeros that are joined to the edge of a picture, side by side: what registration and rotation leave where nothing was taken.
 * A pixel counts where every plane is exactly 0 there; zeros inside the picture, however many, do not.
 */
export function borderZeros(planes: readonly Float32Array[], width: number, height: number): PixelMask {
  const candidates = new Uint8Array(width * height).fill(MAY);
  for (const plane of planes) for (let i = 0; i < plane.length; i++) if (plane[i] !== 0) candidates[i] = 0;
  return joinedToEdge(candidates, width, height);
}

/** Marks the pixels without data in some plane that are joined to the edge of a picture, side by side. */
export function borderNoData(planes: readonly Float32Array[], width: number, height: number): PixelMask {
  const candidates = new Uint8Array(width * height);
  for (const plane of planes) for (let i = 0; i < plane.length; i++) if (plane[i] !== plane[i]) candidates[i] = MAY;
  return joinedToEdge(candidates, width, height);
}

/**
 * Of the candidates, 1 each, those joined to the edge: filled run by run from there, so that only they are walked.
 * @param candidates becomes the mask
 */
function joinedToEdge(candidates: Uint8Array, width: number, height: number): PixelMask {
  const runs = new Runs();
  let found = 0;
  /** Marks the run of candidates about a pixel of a row, and remembers it. */
  const mark = (x: number, y: number): void => {
    const row = y * width;
    if (candidates[row + x] !== MAY) return;
    let [from, to] = [x, x];
    while (from > 0 && candidates[row + from - 1] === MAY) from--;
    while (to + 1 < width && candidates[row + to + 1] === MAY) to++;
    candidates.fill(IS, row + from, row + to + 1);
    found += to + 1 - from;
    runs.push(y, from, to);
  };
  for (let x = 0; x < width; x++) {
    mark(x, 0);
    mark(x, height - 1);
  }
  for (let y = 0; y < height; y++) {
    mark(0, y);
    mark(width - 1, y);
  }
  for (let run = runs.pop(); run; run = runs.pop()) {
    const [y, from, to] = run;
    for (const beside of [y - 1, y + 1]) {
      if (beside < 0 || beside >= height) continue;
      for (let x = from; x <= to; x++) mark(x, beside);
    }
  }
  for (let i = 0; i < candidates.length; i++) candidates[i] >>= 1;
  return { mask: candidates, count: found };
}

/** Runs of pixels that are still to be looked about. */
class Runs {
  private readonly left: number[] = [];

  push(...run: readonly [y: number, from: number, to: number]): void {
    this.left.push(...run);
  }

  pop(): readonly [y: number, from: number, to: number] | undefined {
    const to = this.left.pop();
    const from = this.left.pop();
    const y = this.left.pop();
    return to === undefined || from === undefined || y === undefined ? undefined : [y, from, to];
  }
}

/** Takes marked pixels for no data. */
export function setNoData(planes: readonly Float32Array[], mask: Uint8Array): void {
  for (const plane of planes) for (let i = 0; i < mask.length; i++) if (mask[i] === 1) plane[i] = Number.NaN;
}
