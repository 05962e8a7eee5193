import { type ByteSource, asciiBytes } from '../fits/bytes';
import type { Card } from '../fits/cards';
import { BLOCK, readHdus } from '../fits/hdu';
import type { Edit } from './edit';
import { isPersonal } from './personal';

/** Bytes of a card image. */
const CARD = 80;

/** Everything of a card before the slash of its comment; a slash within a quoted text is none. */
const BEFORE_COMMENT = /^(.{8}= *(?:'(?:[^']|'')*' *|[^'/]*))\//;

const blank = (text = ''): Uint8Array => asciiBytes(text.padEnd(CARD));

/** What the images of a card become: blank, or the value without its comment where only that is personal. */
function redactedImages(card: Card): Uint8Array[] {
  const [first, ...rest] = card.images;
  const kept = card.value !== undefined && !isPersonal({ key: card.key, value: card.value });
  const head = kept && rest.length === 0 ? BEFORE_COMMENT.exec(first)?.[1] : undefined;
  return card.images.map(() => blank(head));
}

/**
 * The edits that take who and where out of the headers of a FITS file. Personal cards become blank cards (FITS 4.0 §4.4.2.4). The CHECKSUM card of a
 * changed header goes as well, since it no longer holds; DATASUM does. Data, text in tables among them, stay.
 * @throws UserError where the file is no FITS
 */
export async function redactFits(source: ByteSource): Promise<Edit[]> {
  const edits: Edit[] = [];
  let start = 0;
  for await (const { cards, dataOffset, dataSize } of readHdus(source)) {
    const changed = cards.some(isPersonal);
    let at = start;
    for (const card of cards) {
      const images = isPersonal(card) ? redactedImages(card) : card.key === 'CHECKSUM' ? [blank()] : [];
      if (changed) edits.push(...images.map((bytes, i) => ({ at: at + i * CARD, bytes })));
      at += card.images.length * CARD;
    }
    start = dataOffset + Math.ceil(dataSize / BLOCK) * BLOCK;
  }
  return edits;
}
