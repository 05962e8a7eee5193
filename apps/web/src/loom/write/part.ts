import type { Rect } from '@owl-loom/image/geometry/rect';
import { PROPORTIONS, type Settings } from './settings';
import { clamp } from '@owl-loom/base/clamp';

/** Width and height in pixels. */
export interface Size {
  readonly width: number;
  readonly height: number;
}

/** A place in a picture, 0 to 1 from the left and from the foot. */
export interface Middle {
  readonly x: number;
  readonly y: number;
}

const pixelWithin = (v: number, max: number): number => Math.round(clamp(v, 0, max));

/** The largest part of a picture that has a print's proportion, as near to a middle as it can lie. */
export function printPart(size: Size, ratio: number, middle: Middle): Rect {
  const width = Math.max(1, Math.min(size.width, Math.round(size.height * ratio)));
  const height = Math.max(1, Math.min(size.height, Math.round(size.width / ratio)));
  return {
    x: pixelWithin(middle.x * size.width - width / 2, size.width - width),
    y: pixelWithin(middle.y * size.height - height / 2, size.height - height),
    width,
    height,
  };
}

/** A rectangle brought within a picture, in whole pixels. */
export function withinPicture({ x, y, width, height }: Rect, size: Size): Rect {
  const left = pixelWithin(x, size.width - 1);
  const bottom = pixelWithin(y, size.height - 1);
  return {
    x: left,
    y: bottom,
    width: Math.max(1, pixelWithin(width, size.width - left)),
    height: Math.max(1, pixelWithin(height, size.height - bottom)),
  };
}

/** The part that is written; nothing where that is the whole. */
export function partOf(
  { part, proportion, upright }: Pick<Settings, 'part' | 'proportion' | 'upright'>,
  size: Size,
  middle: Middle,
  frame: Rect,
): Rect | undefined {
  if (part === 'whole') return undefined;
  if (part === 'frame') return withinPicture(frame, size);
  const ratio = PROPORTIONS[proportion];
  return printPart(size, upright ? 1 / ratio : ratio, middle);
}

/** The size in which a part is written, and the width that is asked for it; nothing asked where it stays as it is. */
export function sizeOf(
  { size, percent, width }: Pick<Settings, 'size' | 'percent' | 'width'>,
  part: Size,
): Size & { readonly asked?: number } {
  if (size === 'as it is') return { width: part.width, height: part.height };
  const wide = Math.max(1, size === 'per cent' ? Math.round((part.width * percent) / 100) : Math.round(width));
  if (wide === part.width) return { width: part.width, height: part.height };
  return { width: wide, height: Math.max(1, Math.round((part.height * wide) / part.width)), asked: wide };
}

/** Widths that a file may have. */
export const WIDTHS = { least: 16, most: 60_000 } as const;
/** Sizes that one press may ask for. */
const MOST_SIZES = 6;

const typed = (also: string): number[] =>
  also
    .split(/[\s,;]+/)
    .filter(Boolean)
    .map((word) => (/^\d+$/.test(word) ? Number(word) : Number.NaN));
const isWidth = (width: number): boolean => Number.isInteger(width) && width >= WIDTHS.least && width <= WIDTHS.most;

/** What is wrong with further widths as they were typed, if anything is. */
export function troubleWith(also: string): string | undefined {
  const numbers = typed(also);
  if (!numbers.every(isWidth))
    return `Enter widths in whole pixels, ${WIDTHS.least} to ${WIDTHS.most}, separated by commas.`;
  return new Set(numbers).size >= MOST_SIZES ? `At most ${MOST_SIZES} sizes per export.` : undefined;
}

/** The sizes that are written: the one that is chosen, then each further width once, in the order in which they were typed. */
export function sizesOf(
  settings: Pick<Settings, 'size' | 'percent' | 'width' | 'also'>,
  part: Size,
): (Size & { readonly asked?: number })[] {
  const first = sizeOf(settings, part);
  const further = [...new Set(typed(settings.also).filter(isWidth))].filter((width) => width !== first.width);
  const others = further.map((width) => sizeOf({ size: 'pixels', percent: 100, width }, part));
  return [first, ...others].slice(0, MOST_SIZES);
}

/** Bytes of a file without compression. */
export const plainBytes = ({ width, height }: Size, planes: number, depth: number): number =>
  width * height * planes * (depth / 8);
