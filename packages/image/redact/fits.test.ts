import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { memorySource } from '../fits/bytes';
import { addToChecksum } from '../fits/checksum';
import { parseCards } from '../fits/cards';
import { type Hdu, readHdus } from '../fits/hdu';
import { openFits } from '../fits/image';
import { encodeFits } from '../fits/write';
import { applyEdits } from './edit';
import { redactFits } from './fits';

const picture = { width: 3, height: 2, planes: [Float32Array.of(1, 2, 3, 4, 5, NaN)] };

function fileOf(cards: { key: string; value: string | number }[], history: string[] = []): Uint8Array {
  const parts = encodeFits({ ...picture, cards: [], own: cards, history, topDown: false, extensions: [] });
  return new Uint8Array(Buffer.concat([...parts]));
}

async function redacted(file: Uint8Array): Promise<Uint8Array> {
  const out = file.slice();
  applyEdits(out, 0, await redactFits(memorySource('a.fits', file)));
  return out;
}

async function hdus(file: Uint8Array): Promise<Hdu[]> {
  const all: Hdu[] = [];
  for await (const hdu of readHdus(memorySource('a.fits', file))) all.push(hdu);
  return all;
}

const text = (file: Uint8Array): string => Buffer.from(file).toString('latin1');

describe('a FITS without who and where', () => {
  it('has blank cards in their place, its data, and no checksum that fails', async () => {
    const file = fileOf(
      [
        { key: 'OBSERVER', value: 'A. Lamp' },
        { key: 'SITELAT', value: 47.5 },
        { key: 'TELESCOP', value: 'Tube of six inches' },
      ],
      ['masters of /home/lamp/dark.fits', '40 frames kept'],
    );
    const out = await redacted(file);
    expect(out.length).toBe(file.length);
    expect(text(out)).not.toMatch(/Lamp|SITELAT|home/);
    expect(text(out)).toMatch(/TELESCOP= 'Tube of six inches'/);
    expect(text(out)).toMatch(/40 frames kept/);
    const [{ cards, dataOffset }] = await hdus(out);
    expect(cards.some(({ key }) => key === 'CHECKSUM')).toBe(false);
    // The other sum that the header states is that of the data, which stay (FITS 4.0 §4.4.2.7).
    const said = cards.find(({ key }) => key === 'DATASUM')?.value;
    if (said !== undefined) expect(Number(said)).toBe(addToChecksum(out.subarray(dataOffset, dataOffset + 2880)));
    expect([...out.subarray(dataOffset)]).toEqual([...file.subarray(dataOffset)]);
    expect((await openFits(memorySource('a.fits', out))).width).toBe(3);
  });

  it('keeps the value of a card whose comment alone is personal', async () => {
    const file = fileOf([
      { key: 'FOCALLEN', value: 800 },
      { key: 'FILTER', value: "o'Ha / narrow" },
    ]);
    const put = (key: string, image: string): void => {
      file.set(new TextEncoder().encode(image.padEnd(80)), text(file).indexOf(key.padEnd(8)));
    };
    put('FOCALLEN', 'FOCALLEN=                  800 / from /home/lamp/scope.txt');
    put('FILTER', "FILTER  = 'o''Ha / narrow'      / list of ~/lamp/filters");
    put('NAXIS1', 'NAXIS1  =                    3 / of C:\\nights\\one');
    const out = await redacted(file);
    expect(text(out)).not.toMatch(/lamp|nights/);
    const [{ cards }] = await hdus(out);
    const given = (key: string) => cards.find((card) => card.key === key)?.value;
    expect([given('FOCALLEN'), given('FILTER'), given('NAXIS1')]).toEqual([800, "o'Ha / narrow", 3]);
  });

  it('takes all cards of a text that is carried on', async () => {
    const path = `/home/lamp/${'a long way down/'.repeat(12)}end.fits`;
    const out = await redacted(fileOf([{ key: 'SOURCE', value: path }]));
    expect(text(out)).not.toMatch(/long way|lamp|CONTINUE {2}'/);
    expect((await hdus(out)).length).toBeGreaterThan(0);
  });

  it('is the same file where nothing is personal, and stays the same when it is done again', async () => {
    const word = fc.stringMatching(/^[A-Za-z ]{1,40}$/);
    const card = fc.record({
      key: fc.constantFrom('OBSERVER', 'SITELONG', 'TELESCOP', 'GAIN', 'ORIGIN', 'OBJECT'),
      value: fc.oneof(
        word,
        fc.integer(),
        word.map((way) => `/x/${way}/y`),
      ),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(card, { maxLength: 60 }), async (cards) => {
        const file = fileOf(cards);
        const out = await redacted(file);
        const personal = cards.some(
          ({ key, value }) => /^(OBSERVER|SITELONG|ORIGIN)$/.test(key) || String(value).startsWith('/x/'),
        );
        expect(Buffer.compare(out, file) === 0).toBe(!personal);
        expect(Buffer.compare(await redacted(out), out)).toBe(0);
        expect(parseCards(text(out).slice(0, 2880)).find(({ key }) => key === 'SIMPLE')?.value).toBe(true);
      }),
      { numRuns: 60 },
    );
  });
});
