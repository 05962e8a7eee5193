import { asciiBytes } from './bytes';
import { type Card, formatCard, formatCommentary } from './cards';
import { wasmKernels } from '../kernels/wasm';
import { addChecksums, addToChecksum, encodeChecksum } from './checksum';
import { BLOCK } from './hdu';

/** What to write: planes of width · height values from the foot up, with the cards and the history to carry along. */
export interface FitsContent {
  readonly width: number;
  readonly height: number;
  /** One plane or three. */
  readonly planes: readonly Float32Array[];
  /** Cards of the source; those that describe its form are left behind. */
  readonly cards?: readonly Card[];
  /** Cards of our own, which stand before the kept ones and replace those of the same name. */
  readonly own?: readonly { key: string; value: string | number | boolean; comment?: string }[];
  readonly history?: readonly string[];
  /** Bytes that stand in extensions of their own, under a name each. */
  readonly extensions?: readonly { readonly name: string; readonly bytes: Uint8Array }[];
  /** Writes the rows from the top down and says so, as a source with ROWORDER = 'TOP-DOWN' had them. */
  readonly topDown?: boolean;
}

const FORM =
  /^(SIMPLE|XTENSION|BITPIX|NAXIS\d*|EXTEND|PCOUNT|GCOUNT|GROUPS|BSCALE|BZERO|BLANK|DATAMIN|DATAMAX|DATASUM|CHECKSUM|ROWORDER|BAYERPAT|TFIELDS|THEAP|END|CONTINUE|INHERIT|EXTNAME|EXTVER|EXTLEVEL|BLOCKED|EPOCH|LONGSTRN|T(TYPE|FORM|UNIT|DIM|NULL|SCAL|ZERO|DISP|BCOL)\d+|Z(IMAGE|TENSION|SIMPLE|BITPIX|NAXIS\d*|TILE\d+|CMPTYPE|NAME\d+|VAL\d+|EXTEND|PCOUNT|GCOUNT|SCALE|ZERO|BLANK|QUANTIZ|DITHER0|HECKSUM|DATASUM|BLOCKED))$/;

/** Whether a source card may stand in a new header: it describes the sky or the shot, not the form of the old file, and is valid FITS. */
export function isCopyableCard(card: Card): boolean {
  if (FORM.test(card.key) || card.key === '') return false;
  const image = card.images[0];
  if (card.images.some((line) => !/^[\x20-\x7e]{80}$/.test(line))) return false;
  if (card.key === 'COMMENT' || card.key === 'HISTORY') return true;
  return card.value !== undefined && /^(HIERARCH [A-Za-z0-9_ .-]+|[A-Z0-9_-]+) *= /.test(image);
}

function headerImages(content: FitsContent): string[] {
  const { width, height, planes, topDown } = content;
  const own = content.own ?? [];
  const names = new Set(own.map((card) => card.key));
  const kept = (content.cards ?? []).filter((card) => isCopyableCard(card) && !names.has(card.key));
  // A keyword that stands twice draws a warning from checkers; the last one is the one that counts.
  const lastOf = new Map(kept.map((card, i) => [card.key, i]));
  const images = [
    ...formatCard('SIMPLE', true, 'FITS 4.0'),
    ...formatCard('BITPIX', -32, '32-bit floating point'),
    ...formatCard('NAXIS', planes.length === 3 ? 3 : 2),
    ...formatCard('NAXIS1', width),
    ...formatCard('NAXIS2', height),
    ...(planes.length === 3 ? formatCard('NAXIS3', 3, 'red, green, blue') : []),
    ...(content.extensions?.length ? formatCard('EXTEND', true, 'extensions follow') : []),
    ...(topDown ? formatCard('ROWORDER', 'TOP-DOWN', 'the first row is the top') : []),
    ...own.flatMap((card) => formatCard(card.key, card.value, card.comment)),
    ...kept
      .filter((card, i) => /^(COMMENT|HISTORY)$/.test(card.key) || lastOf.get(card.key) === i)
      .flatMap((card) => card.images),
    ...(content.history ?? []).flatMap((line) => formatCommentary('HISTORY', line)),
  ];
  const continued = images.some((image) => image.startsWith('CONTINUE'));
  return [
    ...images,
    // Readers of before FITS 4.0 look for this before they join texts that are carried on.
    ...(continued ? formatCard('LONGSTRN', 'OGIP 1.0', 'texts may be carried on over CONTINUE') : []),
  ];
}

/** A header with both sums, filled up to whole blocks. */
function encodeHeader(cards: readonly string[], dataSum: number): Uint8Array {
  const images = [
    ...cards,
    ...formatCard('DATASUM', String(dataSum), 'sum of the data'),
    ...formatCard('CHECKSUM', '0'.repeat(16), 'the whole sums to -0'),
  ];
  const text = [...images, 'END'.padEnd(80)].join('');
  const bytes = new Uint8Array(Math.ceil(text.length / BLOCK) * BLOCK).fill(0x20);
  bytes.set(asciiBytes(text));
  const sum = encodeChecksum(addToChecksum(bytes, dataSum));
  const at = (images.length - 1) * 80 + 11;
  bytes.set(asciiBytes(sum), at);
  return bytes;
}

/** A piece of the data as it is written, with the sum of its words. */
interface Piece {
  readonly bytes: Uint8Array;
  readonly sum: number;
}

/** Rows of all planes as big-endian bytes, in pieces of about a megabyte; the last padded to a whole block. */
function* encodeData(content: FitsContent): Generator<Piece> {
  const { width, height, planes, topDown } = content;
  const step = Math.max(1, Math.floor(262144 / width));
  let written = 0;
  for (const plane of planes) {
    for (let y = 0; y < height; y += step) {
      const rows = Math.min(step, height - y);
      const piece = encodeRows(plane, width, height, y, rows, topDown === true);
      written += piece.bytes.length;
      yield piece;
    }
  }
  const short = (BLOCK - (written % BLOCK)) % BLOCK;
  if (short) yield { bytes: new Uint8Array(short), sum: 0 };
}

/** Rows as they are written: from the y-th on, counted from the top where the file runs downwards. */
function encodeRows(
  plane: Float32Array,
  width: number,
  height: number,
  y: number,
  rows: number,
  topDown: boolean,
): Piece {
  const bytes = new Uint8Array(rows * width * 4);
  const rowAt = (r: number) => (topDown ? height - 1 - y - r : y + r) * width;
  const wasm = wasmKernels();
  if (!wasm) {
    const view = new DataView(bytes.buffer);
    for (let r = 0; r < rows; r++) {
      for (let x = 0; x < width; x++) view.setFloat32((r * width + x) * 4, plane[rowAt(r) + x]);
    }
    return { bytes, sum: addToChecksum(bytes) };
  }
  wasm.resetArena();
  const [from, to] = [wasm.alloc(width), wasm.alloc(width)];
  const memory = new Uint8Array(wasm.run.memory.buffer);
  let sum = 0n;
  for (let r = 0; r < rows; r++) {
    wasm.floats(from, width).set(plane.subarray(rowAt(r), rowAt(r) + width));
    sum += BigInt.asUintN(64, wasm.run.toFloats(from, width, to));
    bytes.set(memory.subarray(to, to + 4 * width), r * width * 4);
  }
  // Carries go round, as in any ones' complement sum.
  return { bytes, sum: sum === 0n ? 0 : Number(((sum - 1n) % 0xffffffffn) + 1n) };
}

/** Bytes as an image extension of one axis, which every reader can take out. */
function* encodeExtension({ name, bytes }: { name: string; bytes: Uint8Array }): Generator<Uint8Array> {
  const data = new Uint8Array(Math.ceil(bytes.length / BLOCK) * BLOCK);
  data.set(bytes);
  const cards = [
    ...formatCard('XTENSION', 'IMAGE', 'bytes'),
    ...formatCard('BITPIX', 8),
    ...formatCard('NAXIS', 1),
    ...formatCard('NAXIS1', bytes.length),
    ...formatCard('PCOUNT', 0),
    ...formatCard('GCOUNT', 1),
    ...formatCard('EXTNAME', name),
  ];
  yield encodeHeader(cards, addToChecksum(data));
  yield data;
}

/**
 * A FITS file in pieces: float32, two axes or three planes, DATASUM and CHECKSUM set.
 * The data are encoded twice, once for their sum, so that the file never stands in memory a second time.
 */
export function* encodeFits(content: FitsContent): Generator<Uint8Array> {
  let sum = 0;
  for (const piece of encodeData(content)) sum = addChecksums(sum, piece.sum);
  yield encodeHeader(headerImages(content), sum);
  for (const { bytes } of encodeData(content)) yield bytes;
  for (const extension of content.extensions ?? []) yield* encodeExtension(extension);
}
