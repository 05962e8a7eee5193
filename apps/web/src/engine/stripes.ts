import { TILE } from '@owl-loom/image/pyramid/pyramid';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { DrawReply } from '../../worker/protocol';

/** Pixels of a stripe: few enough that a hand which moves again does not wait for it. */
const STRIPE = 140_000;

/** Whole rows of a rectangle, between two of its edges. */
const rows = (rect: Rect, from: number, to: number): Rect => ({ ...rect, y: from, height: to - from });

/** A rectangle cut into stripes of whole rows, from the foot up. */
function stripesOf(rect: Rect): Rect[] {
  const count = Math.min(rect.height, Math.max(1, Math.ceil((rect.width * rect.height) / STRIPE)));
  const edge = (i: number) => rect.y + Math.round((i * rect.height) / count);
  return Array.from({ length: count }, (_, i) => rows(rect, edge(i), edge(i + 1)));
}

/**
 * A picture shared out: the stripes of one worker, or of two where there are more than one. Each takes one side of the picture, parted
 * between tiles where some end near its middle, so that few tiles are read twice.
 */
export function sharesOf(rect: Rect): Rect[][] {
  if (rect.height < 2 || rect.width * rect.height <= STRIPE) return [[rect]];
  const middle = rect.y + Math.round(rect.height / 2);
  const tile = Math.round(middle / TILE) * TILE;
  const parting = Math.abs(tile - middle) <= rect.height / 8 ? tile : middle;
  return [rows(rect, rect.y, parting), rows(rect, parting, rect.y + rect.height)].map(stripesOf);
}

/** Bitmaps of stripes laid into one; their rows run from the top down, those of rectangles from the foot up. */
function laid(rect: Rect, parts: readonly { rect: Rect; bitmap: ImageBitmap }[]): ImageBitmap {
  const canvas = new OffscreenCanvas(rect.width, rect.height);
  const context = canvas.getContext('2d');
  if (!context) throw new Error('the picture cannot be drawn here');
  for (const { rect: own, bitmap } of parts) {
    context.drawImage(bitmap, 0, rect.y + rect.height - own.y - own.height);
    bitmap.close();
  }
  return canvas.transferToImageBitmap();
}

/** One picture of its stripes. */
export function joinStripes(rect: Rect, replies: readonly DrawReply[]): DrawReply {
  const [first] = replies;
  const others = replies.flatMap(({ rect: own, other }) => (other ? [{ rect: own, bitmap: other }] : []));
  return {
    ...first,
    rect,
    bitmap: laid(rect, replies),
    apart: null,
    drift: null,
    other: others.length === replies.length ? laid(rect, others) : null,
    guessed: [...new Set(replies.flatMap(({ guessed }) => guessed))],
    proof: replies.every(({ proof }) => proof),
    milliseconds: replies.reduce((sum, { milliseconds }) => sum + milliseconds, 0),
  };
}

/** Lets go of what was drawn of a picture that nobody wants any more. */
export function closeBitmaps(replies: readonly DrawReply[]): void {
  for (const { bitmap, other } of replies) {
    bitmap.close();
    other?.close();
  }
}
