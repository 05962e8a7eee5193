import { joinWithAnd } from '@owl-loom/base/join-words';
import { type Affine, determinant, mapPoint } from '@owl-loom/image/geometry/affine';

/** How an image lies against another, in words that people use. */
export interface Misalignment {
  /** Degrees, counter-clockwise as seen, by which the image is turned against the reference. */
  readonly turn: number;
  /** Reference pixels by which the image's middle is off, right and up. */
  readonly shift: readonly [number, number];
  /** Reference pixels a pixel of the image spans. */
  readonly size: number;
  readonly mirrored: boolean;
  /** The greatest distance of a corner from where it should be, in reference pixels. */
  readonly worst: number;
}

/** Corners that are no further off than this lie well: less than anyone sees. */
const WELL = 0.25;

/**
 * What an alignment says of the image as it is.
 * @param map from the image's pixels to those of the reference
 */
export function misalignmentOf(map: Affine, { width, height }: { width: number; height: number }): Misalignment {
  const mirrored = determinant(map) < 0;
  const size = Math.sqrt(Math.abs(determinant(map)));
  // A mirror image is taken to be flipped left to right before it was turned.
  const turn = ((mirrored ? Math.atan2(-map.yx, -map.xx) : Math.atan2(-map.yx, map.xx)) * 180) / Math.PI;
  const off = (x: number, y: number): number => {
    const [u, v] = mapPoint(map, x, y);
    return Math.hypot(x - u, y - v);
  };
  const middle = mapPoint(map, (width - 1) / 2, (height - 1) / 2);
  // Where the sizes differ, the pictures are laid edge on edge, not first pixel on first pixel.
  const shift: [number, number] = [(width / 2) * size - 0.5 - middle[0], (height / 2) * size - 0.5 - middle[1]];
  const worst = Math.max(
    ...[
      [0, 0],
      [width - 1, 0],
      [0, height - 1],
      [width - 1, height - 1],
    ].map(([x, y]) => off(x, y)),
  );
  return { turn, shift, size, mirrored, worst };
}

/** True where the image lies on the reference as it is. */
export const isAligned = (lie: Misalignment): boolean => !lie.mirrored && lie.worst <= WELL;

const short = (value: number): string => (value < 10 ? value.toFixed(1) : String(Math.round(value)));

/** One sentence's worth of what is wrong with an image: "rotated 1.2° and shifted 14 px"; "aligned" where nothing is. */
export function describeMisalignment(lie: Misalignment): string {
  if (isAligned(lie)) return 'aligned';
  const parts: string[] = [];
  if (lie.mirrored) parts.push('mirrored');
  const times = Math.max(lie.size, 1 / lie.size);
  const bins = Math.round(times);
  const whole = Math.abs(times / bins - 1) < 0.02;
  if (bins > 1 && whole) parts.push(lie.size > 1 ? `binned ${bins}×${bins}` : `sampled ${bins}× finer`);
  else if (Math.abs(lie.size - 1) > 0.0005) parts.push(`scale ${lie.size.toFixed(3)}`);
  const turn = Math.abs(lie.turn);
  if (turn > 0.02) parts.push(`rotated ${turn < 1 ? turn.toFixed(2) : short(turn)}°`);
  const distance = Math.hypot(...lie.shift);
  if (distance > WELL) parts.push(`shifted ${short(distance)} px`);
  if (parts.length === 0) parts.push(`${short(lie.worst)} px off at a corner`);
  return joinWithAnd(parts);
}
