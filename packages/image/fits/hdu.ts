import { UserError } from '@owl-loom/base/errors';
import { type ByteSource, latin1 } from './bytes';
import { type Card, numberOf, parseCards, textOf } from './cards';

/** FITS files come in blocks of 2880 bytes. */
export const BLOCK = 2880;
/** More header blocks than this is taken for a broken file: 72 000 cards. */
const MAX_HEADER_BLOCKS = 2000;

/** One header with where its data lie. */
export interface Hdu {
  readonly cards: Card[];
  readonly dataOffset: number;
  /** Bytes of data, padding not counted. */
  readonly dataSize: number;
}

const bad = (code: string, message: string) => new UserError(code, message);

/** Reads the header that starts at `offset`. Refused where there is no END card within the file. */
async function readHeader(source: ByteSource, offset: number): Promise<{ cards: Card[]; dataOffset: number }> {
  let text = '';
  for (let block = 0; block < MAX_HEADER_BLOCKS; block++) {
    const at = offset + block * BLOCK;
    if (at + 80 > source.size) break;
    const part = latin1(await source.read(at, Math.min(BLOCK, source.size - at)));
    for (let card = 0; card + 80 <= part.length; card += 80) {
      if (/^END {77}$/.test(part.slice(card, card + 80))) {
        return { cards: parseCards(text + part.slice(0, card)), dataOffset: at + BLOCK };
      }
    }
    text += part;
  }
  throw bad(
    'fits-no-end',
    `${source.name} has a FITS header without an END card; the file is damaged, so save or copy it again.`,
  );
}

function dataSizeOf(cards: Card[], name: string): number {
  const axes = numberOf(cards, 'NAXIS') ?? 0;
  const bitpix = numberOf(cards, 'BITPIX');
  if (bitpix === undefined || ![8, 16, 32, 64, -32, -64].includes(bitpix)) {
    throw bad('fits-bitpix', `${name} has BITPIX ${bitpix ?? 'missing'}; FITS knows 8, 16, 32, 64, -32 and -64.`);
  }
  if (!Number.isInteger(axes) || axes < 0 || axes > 999) {
    throw bad('fits-axes', `${name} has NAXIS ${axes}; the header is damaged, so save the file again.`);
  }
  if (axes === 0) return 0;
  let count = 1;
  for (let i = 1; i <= axes; i++) {
    const n = numberOf(cards, `NAXIS${i}`);
    if (n === undefined || !Number.isInteger(n) || n < 0) {
      throw bad('fits-axes', `${name} has no valid NAXIS${i} card; the header is damaged, so save the file again.`);
    }
    // Random groups mark themselves by a first axis of 0.
    if (!(i === 1 && n === 0 && cards.some((card) => card.key === 'GROUPS' && card.value === true))) count *= n;
  }
  return (Math.abs(bitpix) / 8) * (numberOf(cards, 'GCOUNT') ?? 1) * ((numberOf(cards, 'PCOUNT') ?? 0) + count);
}

/** The headers of a FITS file, one by one; stops at the end of the file or at the first thing that is no header. */
export async function* readHdus(source: ByteSource): AsyncGenerator<Hdu> {
  const start = latin1(await source.read(0, Math.min(10, source.size)));
  if (!/^SIMPLE {2}= /.test(start)) {
    throw bad('not-fits', `${source.name} is not a FITS file. Save the stack as FITS and import that.`);
  }
  let offset = 0;
  while (offset + 80 <= source.size) {
    if (offset > 0 && latin1(await source.read(offset, 8)) !== 'XTENSION') return;
    const { cards, dataOffset } = await readHeader(source, offset);
    const dataSize = dataSizeOf(cards, source.name);
    yield { cards, dataOffset, dataSize };
    offset = dataOffset + Math.ceil(dataSize / BLOCK) * BLOCK;
  }
}

/** True where the HDU is a tile-compressed image in a binary table. */
export const isTiled = (hdu: Hdu): boolean => hdu.cards.some((card) => card.key === 'ZIMAGE' && card.value === true);

/** The axes of an image HDU, tile-compressed or not; empty where it holds no image. */
export function imageAxes(hdu: Hdu): number[] {
  const tiled = isTiled(hdu);
  const extension = textOf(hdu.cards, 'XTENSION');
  if (extension !== undefined && extension !== 'IMAGE' && !tiled) return [];
  const key = tiled ? 'ZNAXIS' : 'NAXIS';
  return Array.from({ length: numberOf(hdu.cards, key) ?? 0 }, (_, i) => numberOf(hdu.cards, `${key}${i + 1}`) ?? 0);
}
