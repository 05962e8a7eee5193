/**
 * Marks the zeros that are joined to the edge of a picture, side by side: what registration and rotation leave where nothing was taken.
 * A pixel counts where every plane is exactly 0 there; zeros inside the picture, however many, do not.
 * @returns 1 where a pixel is such a zero, and how many there are
 */
export function edgeZeros(
  planes: readonly Float32Array[],
  width: number,
  height: number,
): { mask: Uint8Array; count: number } {
  const mask = new Uint8Array(width * height);
  const isZero = (i: number): boolean => mask[i] === 0 && planes.every((plane) => plane[i] === 0);
  const open: number[] = [];
  const touch = (i: number): void => {
    if (!isZero(i)) return;
    mask[i] = 1;
    open.push(i);
  };
  for (let x = 0; x < width; x++) {
    touch(x);
    touch((height - 1) * width + x);
  }
  for (let y = 0; y < height; y++) {
    touch(y * width);
    touch(y * width + width - 1);
  }
  let count = 0;
  for (let i = open.pop(); i !== undefined; i = open.pop()) {
    count++;
    const x = i % width;
    if (x > 0) touch(i - 1);
    if (x < width - 1) touch(i + 1);
    if (i >= width) touch(i - width);
    if (i < mask.length - width) touch(i + width);
  }
  return { mask, count };
}

/** Takes marked pixels for no data. */
export function blank(planes: readonly Float32Array[], mask: Uint8Array): void {
  for (const plane of planes) for (let i = 0; i < mask.length; i++) if (mask[i] === 1) plane[i] = Number.NaN;
}
