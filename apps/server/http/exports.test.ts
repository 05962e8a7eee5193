import { createHash } from 'node:crypto';
import { readFile, readdir } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { memorySource } from '@owl-loom/image/fits/bytes';
import { openFits } from '@owl-loom/image/fits/image';
import type { Recipe } from '@owl-loom/recipe/schema';
import { fits, height, TestServer, width } from '../testing/api';

let server: TestServer;
let target: string;
let recipeId: string;

const recipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  name: 'Ночь & 銀河',
  strands: ['Ha', 'OIII'].map((id) => ({ id, from: { stack: id } })),
  cloth: {
    layers: [{ of: { mix: { red: { Ha: 1 }, green: { OIII: 1 }, blue: { OIII: 1 } } }, steps: [{ do: 'stretch' }] }],
  },
};

beforeAll(async () => {
  server = await TestServer.open();
  target = await server.newTarget('Files');
  await server.bringIn(target, 'a_Ha.fits', fits(21, 'Ha'));
  await server.bringIn(target, 'b_OIII.fits', fits(22, 'OIII'));
  recipeId = await server.newRecipe(target, recipe);
});
afterAll(() => server.close());

interface Row {
  id: string;
  fileName: string;
  width: number;
  height: number;
  sum: string;
  report: { warnings: { message: string }[] };
}

/** Has a file written, and gives its row and its bytes. */
async function written(
  asked: object,
  address = `/api/targets/${target}/exports`,
): Promise<{ row: Row; bytes: Buffer }> {
  const { job } = (await server.agent().post(address).send(asked).expect(202)).body;
  const { state, result } = await server.jobEnds(job);
  expect(state).toBe('done');
  const rows: Row[] = (await server.agent().get(`/api/targets/${target}/exports`)).body;
  const row = rows.find(({ id }) => id === result?.exportId) as Row;
  const { body } = await server.agent().get(`/api/exports/${row.id}/file`).buffer().parse(raw).expect(200);
  return { row, bytes: body as Buffer };
}
const raw: NonNullable<Parameters<ReturnType<ReturnType<TestServer['agent']>['get']>['parse']>[0]> = (
  response: { on(what: string, deed: (part: Buffer) => void): void },
  done: (error: Error | null, body: Buffer) => void,
): void => {
  const parts: Buffer[] = [];
  response.on('data', (part) => parts.push(part));
  response.on('end', () => done(null, Buffer.concat(parts)));
};
const file = (asked: object) => written({ recipeId, ...asked });

/** Text chunks of a PNG, by keyword; read as the standard lays them out. */
function pngTexts(bytes: Buffer): Record<string, string> {
  const found: Record<string, string> = {};
  for (let at = 8; at < bytes.length; ) {
    const [length, name] = [bytes.readUInt32BE(at), bytes.toString('latin1', at + 4, at + 8)];
    const body = bytes.subarray(at + 8, at + 8 + length);
    if (name === 'iTXt') {
      const end = body.indexOf(0);
      found[body.toString('latin1', 0, end)] = body.toString('utf8', end + 5);
    }
    at += 12 + length;
  }
  return found;
}

/** Fields of a little-endian TIFF, by tag, as bytes. */
function tiffFields(bytes: Buffer): Map<number, Buffer> {
  const ifd = bytes.readUInt32LE(4);
  return new Map(
    Array.from({ length: bytes.readUInt16LE(ifd) }, (_, i) => {
      const at = ifd + 2 + 12 * i;
      const size = ({ 1: 1, 2: 1, 3: 2, 4: 4, 5: 8, 7: 1 } as Record<number, number>)[bytes.readUInt16LE(at + 2)];
      const length = size * bytes.readUInt32LE(at + 4);
      const from = length <= 4 ? at + 8 : bytes.readUInt32LE(at + 8);
      return [bytes.readUInt16LE(at), bytes.subarray(from, from + length)];
    }),
  );
}

describe('a file carries its recipe', () => {
  it('a FITS in an extension of bytes, with sums that hold', async () => {
    const { bytes } = await file({ format: 'fits' });
    const at = bytes.indexOf("EXTNAME = 'RECIPE");
    expect(at % 80).toBe(0);
    const header = bytes.subarray(at - (at % 2880), at - (at % 2880) + 2880).toString('latin1');
    expect(header).toMatch(/^XTENSION= 'IMAGE {3}'/);
    const length = Number(/NAXIS1 {2}= +(\d+)/.exec(header)?.[1]);
    const from = at - (at % 2880) + 2880;
    expect(JSON.parse(bytes.toString('utf8', from, from + length))).toEqual(recipe);
    // Every unit sums to minus nought (FITS 4.0, appendix J).
    for (const [begin, end] of [
      [0, at - (at % 2880)],
      [at - (at % 2880), bytes.length],
    ]) {
      let sum = 0n;
      for (let i = begin; i < end; i += 4) sum += BigInt(bytes.readUInt32BE(i));
      while (sum > 0xffffffffn) sum = (sum & 0xffffffffn) + (sum >> 32n);
      expect(sum).toBe(0xffffffffn);
    }
    expect((await openFits(memorySource('x', new Uint8Array(bytes)))).planes).toBe(3);
  });

  it('a PNG and a TIFF in their text fields, with title, credits and caption in any script', async () => {
    const said = { title: 'Bubble <&> "wind"', credits: 'Żofia, 陳', caption: 'Αστέρες\nनक्षत्र 🌌' };
    const png = pngTexts((await file({ format: 'png', ...said })).bytes);
    expect(JSON.parse(png.Recipe)).toEqual(recipe);
    expect(png).toMatchObject({ Title: said.title, Author: said.credits, Description: said.caption });
    const { bytes } = await file({ format: 'tif', ...said });
    const fields = tiffFields(bytes);
    const text = (tag: number) => fields.get(tag)?.toString('utf8').replace(/\0$/, '') ?? '';
    expect(JSON.parse(text(270))).toEqual(recipe);
    expect([text(269), text(315)]).toEqual([said.title, said.credits]);
    expect(text(700)).toContain('Bubble &lt;&amp;&gt; &quot;wind&quot;');
    expect(text(700)).toContain(said.caption);
    expect([...fields.keys()]).toEqual([...fields.keys()].sort((a, b) => a - b));
    expect(await sharp(bytes).metadata()).toMatchObject({ width, height, channels: 3 });
  });

  it('a JPEG says its words, and a FITS in letters that it may hold', async () => {
    const jpg = await file({ format: 'jpg', quality: 60, caption: 'Żofia & 陳' });
    const { xmp, width: w } = await sharp(jpg.bytes).metadata();
    expect(xmp?.toString('utf8')).toContain('Żofia &amp; 陳');
    expect(w).toBe(width);
    const better = await file({ format: 'jpg', quality: 98 });
    expect(better.bytes.length).toBeGreaterThan(1.5 * jpg.bytes.length);
    const { bytes } = await file({ format: 'fits', credits: 'Żofia 陳' });
    expect(bytes.toString('latin1', 0, 28_800)).toMatch(/AUTHOR {2}= 'Zofia \? *'/);
  });
});

describe('a page to show', () => {
  it('is one file with the picture, its words, its exposure, and how it was woven', async () => {
    const said = {
      title: 'A <b>bold</b> bubble',
      credits: 'Żofia',
      caption: 'Two lines\nof "words" & <script>alert(1)</script>',
    };
    const { bytes, row } = await file({ format: 'html', ...said });
    const page = bytes.toString('utf8');
    expect(row).toMatchObject({ format: 'html', depth: 8, width, height });
    expect(page).toContain('<h1>A &lt;b&gt;bold&lt;/b&gt; bubble</h1>');
    expect(page).not.toContain('<script>alert');
    // Nothing is fetched from anywhere.
    expect(page.match(/(src|href)="(?!data:image\/jpeg)/g)).toBeNull();
    expect(page).not.toMatch(/@import|url\(/);
    const jpeg = Buffer.from(/base64,([^"]+)"/.exec(page)?.[1] ?? '', 'base64');
    expect(await sharp(jpeg).metadata()).toMatchObject({ width, height, format: 'jpeg' });
    expect(JSON.parse(/id="recipe">(.*)<\/script>/.exec(page)?.[1] ?? '')).toEqual(recipe);
    expect(page).toMatch(/<td>Ha<\/td><td>10 min<\/td>[\s\S]*together<\/td><td>20 min/);
    expect(page).toMatch(/<svg[\s\S]*>OIII<\/text>[\s\S]*>cloth<\/text>/);
    expect(page).toContain('Strand Ha: stack Ha');
  });

  it('is refused for a picture that is still linear', async () => {
    const { job } = (
      await server.agent().post(`/api/targets/${target}/exports`).send({ recipeId, format: 'html', node: 'Ha' })
    ).body;
    expect(await server.jobEnds(job)).toMatchObject({
      state: 'failed',
      message: expect.stringMatching(/needs a stretched picture/),
    });
  });
});

describe('a file is cut, sized and coloured as asked', () => {
  it('a part of it, at another width, is what one would cut and average', async () => {
    const [whole, part] = [
      await file({ format: 'tif', depth: 32 }),
      await file({ format: 'tif', depth: 32, crop: { x: 10, y: 6, width: 40, height: 30 } }),
    ];
    const pixels = async (bytes: Buffer) =>
      await sharp(bytes).raw({ depth: 'float' }).toBuffer({ resolveWithObject: true });
    const [a, b] = [await pixels(whole.bytes), await pixels(part.bytes)];
    expect(b.info).toMatchObject({ width: 40, height: 30 });
    // x from the left, y from the foot: the top row of the part is the foot's 35th of the whole.
    const at = (p: typeof a, x: number, y: number) => p.data.readFloatLE(4 * 3 * (y * p.info.width + x));
    for (const [x, y] of [
      [0, 0],
      [39, 29],
      [7, 12],
    ])
      expect(at(b, x, y)).toBe(at(a, x + 10, y + (height - 6 - 30)));
    const small = await file({ format: 'tif', depth: 32, width: Math.round(width / 2) });
    const s = await pixels(small.bytes);
    expect(s.info).toMatchObject({ width: Math.round(width / 2), height: Math.round(height / 2) });
    expect(small.row.report.warnings.map(({ message }) => message).join()).toMatch(/resized as it is, stretched/);
    const mean = (p: typeof a) => {
      let sum = 0;
      for (let i = 0; i < p.data.length; i += 4) sum += p.data.readFloatLE(i);
      return (4 * sum) / p.data.length;
    };
    expect(mean(s)).toBeCloseTo(mean(a), 2);
  });

  it('Display P3 shows the same colours, and linear light is what sRGB decodes to', async () => {
    const [srgb, p3, linear] = [
      await file({ format: 'png', depth: 16 }),
      await file({ format: 'png', depth: 16, profile: 'p3' }),
      await file({ format: 'png', depth: 16, profile: 'linear' }),
    ];
    const asSrgb = async (bytes: Buffer) => sharp(bytes).toColourspace('srgb').raw().toBuffer();
    const [a, b, c] = [await asSrgb(srgb.bytes), await asSrgb(p3.bytes), await asSrgb(linear.bytes)];
    // The codec's own colour management brings all three to sRGB of 8 bits.
    for (let i = 0; i < a.length; i += 997) {
      expect(Math.abs(a[i] - b[i])).toBeLessThanOrEqual(3);
      expect(Math.abs(a[i] - c[i])).toBeLessThanOrEqual(3);
    }
    const names = await Promise.all([srgb, p3, linear].map(async ({ bytes }) => (await sharp(bytes).metadata()).icc));
    expect(names.map((icc) => icc?.toString('utf16le').length ?? 0).every((n) => n > 0)).toBe(true);
  });

  it('a linear picture keeps its numbers under a linear profile, and no other can be named for it', async () => {
    const plain = await file({ format: 'tif', depth: 32, node: 'Ha' });
    const named = await file({ format: 'tif', depth: 32, node: 'Ha', profile: 'linear' });
    expect(tiffFields(plain.bytes).has(34675)).toBe(false);
    expect(tiffFields(named.bytes).has(34675)).toBe(true);
    expect(named.bytes.subarray(8, 4000)).toEqual(plain.bytes.subarray(8, 4000));
    const { job } = (
      await server
        .agent()
        .post(`/api/targets/${target}/exports`)
        .send({ recipeId, format: 'tif', node: 'Ha', profile: 'p3' })
    ).body;
    expect(await server.jobEnds(job)).toMatchObject({
      state: 'failed',
      message: expect.stringMatching(/Choose “linear”, or stretch first/),
    });
  });

  it('what cannot be asked for is refused in a sentence, and leaves nothing behind', async () => {
    const before = await readdir(join(server.root, 'exports'));
    const refuse = async (asked: object, why: RegExp) => {
      const { job } = (
        await server
          .agent()
          .post(`/api/targets/${target}/exports`)
          .send({ recipeId, format: 'png', ...asked })
      ).body;
      expect(await server.jobEnds(job)).toMatchObject({ state: 'failed', message: expect.stringMatching(why) });
    };
    await refuse({ crop: { x: width - 5, y: 0, width: 10, height: 10 } }, /is outside the picture \(\d+ × \d+ px\)/);
    await refuse({ width: 1_000_000 }, /larger than a file can hold/);
    await server
      .agent()
      .post(`/api/targets/${target}/exports`)
      .send({ recipeId, format: 'png', quality: 0 })
      .expect(422);
    await server.agent().post(`/api/targets/${target}/exports`).send({ recipeId, format: 'png', width: 0 }).expect(422);
    expect(await readdir(join(server.root, 'exports'))).toEqual(before);
  });
});

describe('a file can be made again', () => {
  it('the same to the bit, whatever has become of the recipe since', async () => {
    const asked = { format: 'tif', width: 50, title: 'Once', called: '{target} {recipe} {width}' };
    const first = await file(asked);
    expect(first.row.fileName).toBe('files-ночь-銀河-50.tif');
    expect(first.row.sum).toBe(createHash('sha256').update(first.bytes).digest('hex'));
    const body = { ...recipe, strands: [...recipe.strands, { id: 'more', from: { stack: 'Ha' } }] };
    await server.agent().put(`/api/recipes/${recipeId}`).send({ parent: 1, body }).expect(200);
    const again = await written({}, `/api/exports/${first.row.id}/again`);
    expect(again.row.id).not.toBe(first.row.id);
    expect(again.row.sum).toBe(first.row.sum);
    const { body: kept } = await server.agent().get(`/api/exports/${first.row.id}/recipe`).expect(200);
    expect(kept).toEqual(recipe);
    const { body: picture } = await server.agent().get(`/api/exports/${first.row.id}/picture`).expect(200);
    expect((await sharp(picture).metadata()).width).toBe(50);
    await server.removeAndEmptyTrash('export', first.row.id);
    const left = await readdir(join(server.root, 'exports'));
    expect(left.some((name) => name.startsWith(first.row.id))).toBe(false);
    await server.agent().post(`/api/exports/${first.row.id}/again`).expect(404);
    await expect(readFile(join(server.root, 'exports', `${first.row.id}.small.jpg`))).rejects.toThrow();
  });
});
