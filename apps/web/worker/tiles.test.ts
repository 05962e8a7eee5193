import { afterAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { TILE } from '@owl-loom/image/pyramid/pyramid';
import { PixelsGone, Tiles } from './tiles';

const stack = { id: 'a', width: 700, height: 600, planes: 1, domain: 'linear' } as const;
let fetched: string[] = [];
let fails = false;
let refusals: { error: { code: string; message: string } }[] = [];

/** A pixel's value tells where it lies. */
const valueAt = (x: number, y: number) => x + 1000 * y;

beforeEach(() => {
  fetched = [];
  fails = false;
  refusals = [];
  vi.stubGlobal('fetch', async (address: string) => {
    fetched.push(address);
    const [tx, ty] = address.split('/').slice(-2).map(Number);
    // Tiles are whole; what lies outside the stack has no data.
    const tile = Float32Array.from({ length: TILE * TILE }, (_, i) => {
      const [x, y] = [tx * TILE + (i % TILE), ty * TILE + Math.floor(i / TILE)];
      return x < stack.width && y < stack.height ? valueAt(x, y) : Number.NaN;
    });
    const refused = refusals.shift() ?? (fails ? {} : undefined);
    return { ok: !refused, json: async () => refused, arrayBuffer: async () => tile.buffer };
  });
});
afterAll(() => void vi.unstubAllGlobals());

describe('windows of tiles', () => {
  it('have the pixels of every tile that they lie on, and none outside the stack', async () => {
    const rect = { x: 500, y: 590, width: 230, height: 20 };
    const pixels = await new Tiles().window(stack, 0, 0, rect);
    pixels.forEach((v, i) => {
      const [x, y] = [rect.x + (i % rect.width), rect.y + Math.floor(i / rect.width)];
      if (x >= stack.width || y >= stack.height) expect(v).toBeNaN();
      else expect(v).toBe(valueAt(x, y));
    });
    expect(fetched).toHaveLength(2);
  });

  it('are put together once while they are asked for again and again', async () => {
    const tiles = new Tiles();
    const rect = { x: 0, y: 0, width: 700, height: 600 };
    const first = await tiles.window(stack, 0, 0, rect);
    expect(await tiles.window(stack, 0, 0, rect)).toBe(first);
    expect(await tiles.window(stack, 0, 0, { ...rect, width: 699 })).not.toBe(first);
    expect(fetched).toHaveLength(4);
    // Many others later it is put together anew, from the tiles that are still there.
    for (let k = 1; k < 60; k++) await tiles.window(stack, 0, 0, { ...rect, height: 600 - k });
    expect(await tiles.window(stack, 0, 0, rect)).not.toBe(first);
    expect(fetched).toHaveLength(4);
  });

  it('that are being made anew are waited for; those that are gone are said to be', async () => {
    const error = (code: string) => ({ error: { code, message: `said: ${code}` } });
    const tiles = new Tiles();
    const rect = { x: 0, y: 0, width: 10, height: 10 };
    refusals = [error('pixels-mending'), error('pixels-mending')];
    expect((await tiles.window(stack, 0, 0, rect))[11]).toBe(valueAt(1, 1));
    expect(fetched).toHaveLength(3);
    refusals = [error('no-pixels')];
    await expect(tiles.window(stack, 0, 1, rect)).rejects.toThrow(PixelsGone);
    refusals = [error('file-lacking')];
    await expect(tiles.window(stack, 0, 1, rect)).rejects.toThrow('said: file-lacking');
  });

  it('that could not be fetched are fetched the next time', async () => {
    const tiles = new Tiles();
    const rect = { x: 0, y: 0, width: 10, height: 10 };
    fails = true;
    await expect(tiles.window(stack, 0, 0, rect)).rejects.toThrow(/could not be fetched/);
    fails = false;
    expect((await tiles.window(stack, 0, 0, rect))[11]).toBe(valueAt(1, 1));
  });
});
