import type { FileFormat } from '@owl-loom/api/exports';
import { UserError } from '@owl-loom/base/errors';
import { type Card, toAscii } from '@owl-loom/image/fits/cards';
import { encodeFits } from '@owl-loom/image/fits/write';
import type { Recipe } from '@owl-loom/recipe/schema';
import { isPersonal } from '@owl-loom/image/redact/personal';
import { encodeJpeg } from '../codecs/jpeg';
import { encodePng } from '../codecs/png';
import { encodeTiff } from '../codecs/tiff';
import type { EmbeddedText } from '../codecs/embedded-text';
import { provenanceLines } from './provenance';
import type { Rendered } from './rendered';
import type { OpenStack } from '../pixels/open-stack';

/** Bits a sample that each format can have; the first is taken where nothing is said. */
const DEPTHS: Record<FileFormat, readonly number[]> = { fits: [32], tif: [16, 32], png: [16, 8], jpg: [8], html: [8] };

const ENDINGS: Record<string, FileFormat> = {
  fits: 'fits',
  fit: 'fits',
  fts: 'fits',
  tif: 'tif',
  tiff: 'tif',
  png: 'png',
  jpg: 'jpg',
  jpeg: 'jpg',
  html: 'html',
};

/** The format that a file name asks for. */
export function formatOf(name: string): FileFormat {
  const ending = /\.([^.]+)$/.exec(name)?.[1].toLowerCase() ?? '';
  const format = Object.hasOwn(ENDINGS, ending) ? ENDINGS[ending] : undefined;
  if (!format) throw new UserError('unknown-format', `${name} must end in .fits, .tif, .png, .jpg or .html.`);
  return format;
}

/** The depth to write, checked against the format. */
export function depthOf(format: FileFormat, depth?: number): number {
  if (depth === undefined) return DEPTHS[format][0];
  if (!DEPTHS[format].includes(depth)) {
    throw new UserError(
      'unknown-depth',
      `${format} is written with ${DEPTHS[format].join(' or ')} bits, not ${depth}.`,
    );
  }
  return depth;
}

/** Cards that place pixels on the sky: they are wrong once the picture has been turned. */
const PLACING =
  /^(WCSAXES|CRPIX\d|CRVAL\d|CTYPE\d|CUNIT\d|CD\d_\d|PC\d_\d|CDELT\d|CROTA\d|LONPOLE|LATPOLE|A_|B_|AP_|BP_)/;

/** Cards that speak of one exposure through one filter: wrong for what is woven from several. */
const OF_ONE = /^(FILTER|INSFLNAM|EXPTIME|EXPOSURE|DATE-OBS|DATE-END|IMAGETYP)$/;

/** The frame's cards, its reference pixel moved to the cut picture. */
function cardsFor(
  rendered: Rendered,
  frame: OpenStack,
  impersonal: boolean,
): { cards: Card[]; own: { key: string; value: number | string }[] } {
  const { extent, stacks } = rendered;
  const several = stacks.length > 1;
  const cards = frame.cards.filter(
    (card) =>
      !(rendered.oriented && PLACING.test(card.key)) &&
      !(several && OF_ONE.test(card.key)) &&
      !(impersonal && isPersonal(card)),
  );
  const dy = frame.topDown ? frame.info.height - extent.y - extent.height : extent.y;
  const shift = { CRPIX1: extent.x, CRPIX2: dy };
  const moved = Object.entries(shift).flatMap(([key, by]) => {
    const value = cards.find((card) => card.key === key)?.value;
    return typeof value === 'number' && by !== 0 ? [{ key, value: value - by }] : [];
  });
  return { cards, own: [...moved, ...(several ? [{ key: 'FILTER', value: stacks.join(' ') }] : [])] };
}

/** What a picture says of itself as cards: FITS text is ASCII, so what has no letters there is spelt with what is left of it. */
function wordCards({ title, credits, caption }: EmbeddedText): { key: string; value: string }[] {
  const texts = { TITLE: title, AUTHOR: credits, CAPTION: caption };
  return Object.entries(texts).flatMap(([key, text]) => (text ? [{ key, value: toAscii(text) }] : []));
}

/** How a file is written, and what is told with it. */
export interface Said extends Omit<EmbeddedText, 'recipe'> {
  /** Of a JPEG, 1 to 100. */
  readonly quality?: number;
  /** Whether cards that say who took the frame's stack, and where, stay out of its header. */
  readonly impersonal?: boolean;
}

/**
 * A rendered picture as the bytes of a file.
 * @param opened the stacks that it was rendered from
 */
export async function encode(
  rendered: Rendered,
  format: FileFormat,
  depth: number,
  recipe: Recipe,
  opened: ReadonlyMap<string, OpenStack>,
  { quality, impersonal = false, ...said }: Said = {},
): Promise<Iterable<Uint8Array>> {
  const { picture } = rendered;
  const frame = opened.get(rendered.frameStack);
  if (!frame) throw new Error('the frame belongs to no stack');
  const words: EmbeddedText = { ...said, recipe: JSON.stringify(recipe) };
  switch (format) {
    case 'fits': {
      const { cards, own } = cardsFor(rendered, frame, impersonal);
      return encodeFits({
        ...picture,
        cards,
        own: [...own, ...wordCards(words)],
        history: provenanceLines(recipe, rendered),
        topDown: frame.topDown,
        extensions: [{ name: 'RECIPE', bytes: Buffer.from(words.recipe ?? '', 'utf8') }],
      });
    }
    case 'tif':
      return encodeTiff(picture, depth === 32 ? 32 : 16, words);
    case 'png':
      return [await encodePng(picture, depth === 8 ? 8 : 16, words)];
    case 'jpg':
      return [await encodeJpeg(picture, { ...words, quality })];
    case 'html': {
      const { htmlPage: pageOf } = await import('./html-page');
      return [await pageOf(rendered, recipe, opened, { ...said, quality })];
    }
  }
}
