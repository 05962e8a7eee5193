/** A patch of pixels at or above a value, all joined by their sides. */
export interface BrightPatch {
  /** Its middle. */
  readonly x: number;
  readonly y: number;
  readonly pixels: number;
  /** Its longer axis over its shorter one. */
  readonly long: number;
}

/** Patches with more pixels than these are no stars. */
const MOST = 20_000;

/** The patches of a plane that stand at or above a value. */
export function brightPatches(plane: Float32Array, width: number, height: number, from: number): BrightPatch[] {
  const seen = new Uint8Array(plane.length);
  const found: BrightPatch[] = [];
  for (let i = 0; i < plane.length; i++) {
    if (!(plane[i] >= from) || seen[i] === 1) continue;
    const patch = joined(plane, width, height, from, i, seen);
    if (patch.length > MOST) continue;
    found.push(shapeOf(patch, width));
  }
  return found;
}

/** Middle and axes of a patch, by its moments; each pixel is a square. */
function shapeOf(patch: readonly number[], width: number): BrightPatch {
  const mean = (of: (at: number) => number): number => patch.reduce((sum, at) => sum + of(at), 0) / patch.length;
  const [column, row] = [(at: number) => at % width, (at: number) => Math.floor(at / width)];
  const [x, y] = [mean(column), mean(row)];
  const xx = mean((at) => (column(at) - x) ** 2) + 1 / 12;
  const yy = mean((at) => (row(at) - y) ** 2) + 1 / 12;
  const xy = mean((at) => (column(at) - x) * (row(at) - y));
  const away = Math.hypot((xx - yy) / 2, xy);
  const half = (xx + yy) / 2;
  return { x, y, pixels: patch.length, long: Math.sqrt((half + away) / (half - away)) };
}

/** All pixels of the patch that a pixel belongs to. */
function joined(
  plane: Float32Array,
  width: number,
  height: number,
  from: number,
  start: number,
  seen: Uint8Array,
): number[] {
  const patch = [start];
  seen[start] = 1;
  for (let k = 0; k < patch.length; k++) {
    const at = patch[k];
    const [x, y] = [at % width, Math.floor(at / width)];
    const take = (next: number): void => {
      if (seen[next] === 1 || !(plane[next] >= from)) return;
      seen[next] = 1;
      patch.push(next);
    };
    if (x > 0) take(at - 1);
    if (x < width - 1) take(at + 1);
    if (y > 0) take(at - width);
    if (y < height - 1) take(at + width);
  }
  return patch;
}
