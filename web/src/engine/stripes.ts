import type { Rect } from '../../../core/raster/rect';
import type { DrawReply } from '../../workers/protocol';

/** Pixels of a stripe: few enough that a hand which moves again does not wait for it. */
const STRIPE = 140_000;

/** A picture's rectangle cut into stripes of whole rows, from the foot up; an even number of them where there is more than one, for two workers. */
export function stripesOf(rect: Rect): Rect[] {
  const wanted = Math.ceil((rect.width * rect.height) / STRIPE);
  const count = Math.min(rect.height, wanted <= 1 ? 1 : 2 * Math.ceil(wanted / 2));
  const edge = (i: number) => rect.y + Math.round((i * rect.height) / count);
  return Array.from({ length: count }, (_, i) => ({ ...rect, y: edge(i), height: edge(i + 1) - edge(i) }));
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
export function joined(rect: Rect, replies: readonly DrawReply[]): DrawReply {
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
export function dropped(replies: readonly DrawReply[]): void {
  for (const { bitmap, other } of replies) {
    bitmap.close();
    other?.close();
  }
}
