import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { memorySource } from './bytes';
import { formatCard, numberOf, parseCards, textOf } from './cards';
import { addToChecksum, encodeChecksum } from './checksum';
import { openFits } from './image';
import { type FitsContent, encodeFits } from './write';

const bytesOf = (content: FitsContent) => {
  const parts = [...encodeFits(content)];
  const out = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
};

const float = fc.float({ noDefaultInfinity: true });

describe('write, then read', () => {
  it('gives the same pixels, mono and in colour, either row order', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 1, max: 23 }),
        fc.integer({ min: 1, max: 17 }),
        fc.constantFrom(1, 3),
        fc.boolean(),
        fc.infiniteStream(float),
        async (width, height, count, topDown, numbers) => {
          const take = () => Float32Array.from({ length: width * height }, () => numbers.next().value as number);
          const planes = Array.from({ length: count }, take);
          const bytes = bytesOf({ width, height, planes, topDown });
          expect(bytes.length % 2880).toBe(0);
          const image = await openFits(memorySource('made.fits', bytes));
          expect([image.width, image.height, image.planes, image.topDown]).toEqual([width, height, count, topDown]);
          for (let p = 0; p < count; p++)
            expect(Float32Array.from(await image.readRows(p, 0, height))).toEqual(planes[p]);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('gives the same cards, long texts and quotes too', () => {
    const printable = fc
      .string({ unit: fc.integer({ min: 32, max: 126 }).map((c) => String.fromCharCode(c)), maxLength: 300 })
      .map((s) => s.replace(/[ &]+$/, ''));
    fc.assert(
      fc.property(
        printable,
        fc.double({ noNaN: true, noDefaultInfinity: true }),
        fc.boolean(),
        (text, number, flag) => {
          const images = [...formatCard('WORDS', text), ...formatCard('COUNT', number), ...formatCard('FLAG', flag)];
          expect(images.every((image) => image.length === 80)).toBe(true);
          const cards = parseCards(images.join(''));
          expect(textOf(cards, 'WORDS')).toBe(text);
          expect(numberOf(cards, 'COUNT')).toBe(number === 0 ? 0 : number);
          expect(cards.find((card) => card.key === 'FLAG')?.value).toBe(flag);
        },
      ),
    );
  });

  it('keeps cards that describe the sky and drops those of the old form', async () => {
    const cards = parseCards(
      [
        ...formatCard('FILTER', 'Ha'),
        ...formatCard('BZERO', 32768),
        ...formatCard('CRPIX1', 12.5),
        ...formatCard('NAXIS1', 99),
        ...formatCard('CHECKSUM', 'x'),
        ...formatCard('FILTER', 'OIII'),
      ].join(''),
    );
    const image = await openFits(
      memorySource(
        'made.fits',
        bytesOf({
          width: 2,
          height: 2,
          planes: [new Float32Array(4)],
          cards,
          own: [{ key: 'CRPIX1', value: 10.5 }],
          history: ['woven, with an ö'],
        }),
      ),
    );
    expect(textOf(image.cards, 'FILTER')).toBe('OIII');
    expect(image.cards.filter((card) => card.key === 'FILTER')).toHaveLength(1);
    expect(numberOf(image.cards, 'CRPIX1')).toBe(10.5);
    expect(numberOf(image.cards, 'BZERO')).toBeUndefined();
    expect(image.width).toBe(2);
    expect(image.cards.find((card) => card.key === 'HISTORY')?.comment).toBe('woven, with an o');
  });
});

describe('checksums', () => {
  it('make the whole file sum to all ones, and the data to DATASUM', () => {
    fc.assert(
      fc.property(fc.array(float, { minLength: 6, maxLength: 6 }), (numbers) => {
        const bytes = bytesOf({ width: 3, height: 2, planes: [Float32Array.from(numbers)] });
        expect(addToChecksum(bytes)).toBe(0xffffffff);
        const cards = parseCards(String.fromCharCode(...bytes.subarray(0, 2880)));
        expect(Number(textOf(cards, 'DATASUM'))).toBe(addToChecksum(bytes.subarray(2880)));
      }),
    );
  });

  it('are coded as the standard shows', () => {
    // FITS 4.0 appendix J.3: the example sum 868229149.
    expect(encodeChecksum(868229149)).toBe('hcHjjc9ghcEghc9g');
  });
});

describe('headers as other readers want them', () => {
  const planes = [Float32Array.of(1, 2, 3, 4)];
  const linesOf = (content: FitsContent): string[] => {
    const text = String.fromCharCode(...bytesOf(content).subarray(0, 2880 * 2));
    const end = text.indexOf('END     ');
    return text.slice(0, end).match(/.{80}/g) ?? [];
  };

  it('say that texts are carried on, where they are', () => {
    const own = [{ key: 'WORDS', value: 'so many words that they do not fit one card by far '.repeat(3) }];
    expect(linesOf({ width: 2, height: 2, planes, own }).some((line) => line.startsWith('LONGSTRN='))).toBe(true);
    expect(linesOf({ width: 2, height: 2, planes }).some((line) => line.startsWith('LONGSTRN='))).toBe(false);
  });

  it('fill twenty columns before a comment, so that a card made anew is the same', () => {
    const lines = linesOf({ width: 2, height: 2, planes });
    for (const key of ['DATASUM', 'CHECKSUM', 'BITPIX']) {
      expect(lines.find((line) => line.startsWith(key))?.slice(30, 33)).toBe(' / ');
    }
  });

  it('keep the HIERARCH cards of the source', () => {
    const cards = parseCards('HIERARCH MOUNT TRACKING RATE = 1.25 / of the sky'.padEnd(80));
    const lines = linesOf({ width: 2, height: 2, planes, cards });
    expect(lines).toContain('HIERARCH MOUNT TRACKING RATE = 1.25 / of the sky'.padEnd(80));
  });

  it('keep those in lower case as they were, and they read back', () => {
    const image = "HIERARCH Camera cooler Power = 'half' / as it said".padEnd(80);
    const lines = linesOf({ width: 2, height: 2, planes, cards: parseCards(image) });
    expect(lines).toContain(image);
    expect(parseCards(lines.join('')).find(({ key }) => key === 'CAMERA COOLER POWER')?.value).toBe('half');
  });
});
