import { hueWeight } from '@owl-loom/algorithms/colour/hue-membership';
import { hueDistance } from '@owl-loom/algorithms/colour/oklch';
import { HUE_STEP, type ColourHistogram } from '@owl-loom/algorithms/colour/colour-histogram';
import type { HueBand } from '@owl-loom/engine/steps/hue-bands';
import { clamp } from '@owl-loom/base/clamp';

/** What of a family is pulled along the ring. */
export type Grip = 'centre' | 'width' | 'soft' | 'turn';

const round = (degrees: number): number => Math.round(2 * degrees) / 2;
export const around = (degrees: number): number => ((degrees % 360) + 360) % 360;

/** From one hue to another the short way, −180 to 180. */
export function turnTo(from: number, to: number): number {
  const by = around(to - from);
  return by > 180 ? by - 360 : by;
}

/**
 * A family after one of its grips has been pulled.
 * @param to the hue under the pointer, in degrees
 * @param from the hue where the pull began
 */
export function pulled(band: HueBand, grip: Grip, to: number, from: number): Partial<HueBand> {
  switch (grip) {
    case 'centre':
      return { centre: round(around(band.centre + turnTo(from, to))) };
    case 'width':
      return { width: round(clamp(2 * hueDistance(to, band.centre), 0, 360)) };
    case 'soft':
      return { soft: round(clamp(hueDistance(to, band.centre) - band.width / 2, 0, 180)) };
    case 'turn':
      return { turn: round(turnTo(band.centre, to)) };
  }
}

/** A family with one of its numbers moved by some degrees, as arrow keys do. */
export function nudged(band: HueBand, grip: Grip, by: number): Partial<HueBand> {
  if (grip === 'centre') return { centre: around(band.centre + by) };
  if (grip === 'turn') return { turn: Math.min(180, Math.max(-180, band.turn + by)) };
  return { [grip]: clamp(band[grip] + by, 0, grip === 'width' ? 360 : 180) };
}

/** Screen pixels before a touch is a drag. */
const STILL = 4;

/**
 * A family dragged on the picture: turned by half a degree a pixel to the side, its chroma doubled by 150 pixels upwards. Nothing while the
 * hand has hardly moved.
 * @param dx to the right, screen pixels
 * @param dy downwards
 */
export function draggedBand({ turn, chroma }: HueBand, dx: number, dy: number): Partial<HueBand> | undefined {
  if (Math.hypot(dx, dy) < STILL) return undefined;
  return {
    turn: clamp(turn + dx / 2, -180, 180),
    chroma: Math.round(100 * clamp(chroma * 2 ** (-dy / 150), 0, 4)) / 100,
  };
}

/** Share of the pixels that a family holds, 0 to 1. */
export const shareHeld = (band: HueBand, { hues }: ColourHistogram): number =>
  hues.reduce((sum, { share }, i) => sum + share * hueWeight(band, (i + 0.5) * HUE_STEP), 0);

/** A place on a circle; angles run counter-clockwise from the right, as hues do. */
export function onCircle(middle: number, radius: number, degrees: number): [x: number, y: number] {
  const angle = (degrees * Math.PI) / 180;
  return [middle + radius * Math.cos(angle), middle - radius * Math.sin(angle)];
}

/** The part of a ring between two radii, from one angle on over so many degrees, as a path. */
export function ringPart(
  middle: number,
  [inner, outer]: readonly [number, number],
  from: number,
  span: number,
): string {
  // A whole ring would begin where it ends, which draws nothing.
  const over = Math.min(359.9, Math.max(0, span));
  const long = over > 180 ? 1 : 0;
  const point = (radius: number, degrees: number) =>
    onCircle(middle, radius, degrees)
      .map((v) => v.toFixed(2))
      .join(' ');
  return [
    `M${point(outer, from)}`,
    `A${outer} ${outer} 0 ${long} 0 ${point(outer, from + over)}`,
    `L${point(inner, from + over)}`,
    `A${inner} ${inner} 0 ${long} 1 ${point(inner, from)}Z`,
  ].join('');
}
