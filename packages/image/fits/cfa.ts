import { UserError } from '@owl-loom/base/errors';
import { textOf } from './cards';
import { type FitsImage, pixelsOf } from './image';

/** Colours of the four pixels of a filter array: first row left and right, second row left and right. */
const PATTERN = /^(RGGB|BGGR|GRBG|GBRG)$/;

/** Cards that speak of the whole pixels of the array: they would be wrong by half for its planes. */
const OF_PIXELS = /^(BAYERPAT|XBAYROFF|YBAYROFF|CRPIX\d|CD\d_\d|PC\d_\d|CDELT\d|CRVAL\d|CTYPE\d|CROTA\d)$/;

/**
 * A stack of a colour camera as three planes of half its size, no pixel invented: each two by two pixels give their red, the mean of
 * their two greens, and their blue. Any other image is given back as it is.
 * The pattern counts from the file's first row, moved by XBAYROFF and YBAYROFF.
 * @throws UserError where the pattern is none that is known
 */
export function debayerHalfSize(image: FitsImage): FitsImage {
  const value = textOf(image.cards, 'BAYERPAT')?.trim().toUpperCase();
  if (!value || image.planes !== 1) return image;
  if (!PATTERN.test(value))
    throw new UserError(
      'cfa-pattern',
      `${image.name}: Bayer pattern “${value}” is not supported (RGGB, BGGR, GRBG and GBRG are). Correct BAYERPAT, or remove it for mono data.`,
    );
  const offset = (key: string): number => {
    const found = image.cards.find((card) => card.key === key)?.value;
    return typeof found === 'number' ? Math.abs(Math.round(found)) % 2 : 0;
  };
  const [dx, dy] = [offset('XBAYROFF'), offset('YBAYROFF')];
  const width = Math.floor(image.width / 2);
  const height = Math.floor(image.height / 2);
  /** Colour of a pixel by its column and its row in the file. */
  const colourAt = (x: number, row: number): string => value[((row + dy) % 2) * 2 + ((x + dx) % 2)];
  const fileRow = (y: number): number => (image.topDown ? image.height - 1 - y : y);
  /** Where the pixels of a colour lie in each square of four, which is the same in all of them, from the square's first pixel. */
  const placesOf = (colour: string): number[] =>
    [0, 1].flatMap((v) => [0, 1].filter((u) => colourAt(u, fileRow(v)) === colour).map((u) => v * image.width + u));
  const readRows: FitsImage['readRows'] = async (plane, y, rows) => {
    const source = await image.readRows(0, 2 * y, 2 * rows);
    const places = placesOf('RGB'[plane]);
    const out = new Float64Array(rows * width);
    for (let r = 0; r < rows; r++) {
      for (let x = 0; x < width; x++) {
        let sum = 0;
        for (const place of places) sum += source[2 * r * image.width + 2 * x + place];
        out[r * width + x] = sum / places.length;
      }
    }
    return out;
  };
  return {
    ...image,
    width,
    height,
    planes: 3,
    cards: image.cards.filter((card) => !OF_PIXELS.test(card.key)),
    readRows,
    readPixels: pixelsOf(readRows),
  };
}
