/** Marked pixels, 1 each, and how many there are. */
interface Marked {
  readonly mask: Uint8Array;
  readonly count: number;
}

/**
 * Marks the zeros that are joined to the edge of a picture, side by side: what registration and rotation leave where nothing was taken.
 * A pixel counts where every plane is exactly 0 there; zeros inside the picture, however many, do not.
 */
export function edgeZeros(planes: readonly Float32Array[], width: number, height: number): Marked {
  const [first, ...others] = planes;
  return joinedToEdge(width, height, (i) => first[i] === 0 && others.every((plane) => plane[i] === 0));
}

/** Marks the pixels of a kind that are joined to the edge of a picture, side by side. */
export function joinedToEdge(width: number, height: number, counts: (i: number) => boolean): Marked {
  const mask = new Uint8Array(width * height);
  let count = 0;
  const mark = (i: number): void => {
    if (mask[i] === 0 && counts(i)) {
      mask[i] = 1;
      count++;
    }
  };
  for (let x = 0; x < width; x++) {
    mark(x);
    mark((height - 1) * width + x);
  }
  for (let y = 0; y < height; y++) {
    mark(y * width);
    mark(y * width + width - 1);
  }
  // What touches a marked zero is marked, sweep by sweep to and fro: edges as registration leaves them are done in two or three.
  for (let before = -1; count > 0 && count !== before; ) {
    before = count;
    for (let i = width; i < mask.length; i++) if (mask[i - 1] | mask[i - width]) mark(i);
    for (let i = mask.length - width - 1; i >= 0; i--) if (mask[i + 1] | mask[i + width]) mark(i);
  }
  return { mask, count };
}

/** Takes marked pixels for no data. */
export function blank(planes: readonly Float32Array[], mask: Uint8Array): void {
  for (const plane of planes) for (let i = 0; i < mask.length; i++) if (mask[i] === 1) plane[i] = Number.NaN;
}
