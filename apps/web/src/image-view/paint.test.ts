import { beforeEach, describe, expect, it, vi } from 'vitest';
import { cellsOf, type Layout } from './cells';
import { COMPARES, nextCompare } from './compare';
import { drawBitmaps, type ViewBitmaps } from './paint';
import type { Viewport, ViewSize } from './viewport';

vi.stubGlobal('devicePixelRatio', 2);

/** What a canvas was asked to draw: each bitmap with the clip that held at that time. */
interface Drawn {
  readonly bitmap: unknown;
  readonly clip: readonly number[];
  readonly left: number;
  readonly by: string;
}

let drawn: Drawn[] = [];
let fills = 0;

/** A canvas that takes down what is asked of it. */
function fakeCanvas(): HTMLCanvasElement {
  let clip: number[] = [];
  let left: number | undefined;
  const context = {
    globalCompositeOperation: 'source-over',
    setTransform: () => undefined,
    fillRect: () => {
      fills++;
    },
    save: () => {
      left = undefined;
    },
    restore: () => undefined,
    beginPath: () => undefined,
    rect: (...numbers: number[]) => {
      clip = numbers;
    },
    clip: () => undefined,
    translate: (x: number) => {
      left ??= x;
    },
    transform: () => undefined,
    scale: () => undefined,
    drawImage: (bitmap: unknown) => {
      drawn.push({ bitmap, clip, left: left ?? 0, by: context.globalCompositeOperation });
    },
  };
  return { width: 0, height: 0, getContext: () => context } as unknown as HTMLCanvasElement;
}

const size = { width: 800, height: 500 };
const view: Viewport = { cx: 100, cy: 60, zoom: 1 };
/** How the stage is parted for a layout. */
const parted = (compare: Layout, stage = size, blinked = false) => {
  const { cells, own } = cellsOf(stage, compare);
  const { width, height } = cells[own];
  return { pane: { width, height, turn: 0, flip: 'none' } satisfies ViewSize, cells, compare, edge: 0.3, blinked };
};
const [own, other] = ['own', 'other'] as unknown as [ImageBitmap, ImageBitmap];
const sheet: ViewBitmaps = { bitmap: own, other, rect: { x: 0, y: 0, width: 200, height: 120 }, level: 0 };

beforeEach(() => {
  drawn = [];
  fills = 0;
});

describe('painting a sheet', () => {
  it('alone fills the window', () => {
    const canvas = fakeCanvas();
    drawBitmaps(canvas, size, { ...sheet, other: null }, view, parted('wipe'));
    expect(drawn).toMatchObject([{ bitmap: own, clip: [0, 0, 800, 500], left: 0 }]);
    expect([canvas.width, canvas.height]).toEqual([1600, 1000]);
  });

  it('by a wipe shows the other up to the edge, both at the same place', () => {
    drawBitmaps(fakeCanvas(), size, sheet, view, parted('wipe'));
    expect(drawn).toMatchObject([
      { bitmap: other, clip: [0, 0, 240, 500], left: 0 },
      { bitmap: own, clip: [240, 0, 560, 500], left: 0 },
    ]);
  });

  it('side by side gives each its own half', () => {
    drawBitmaps(fakeCanvas(), size, sheet, view, parted('side'));
    expect(drawn).toMatchObject([
      { bitmap: other, clip: [0, 0, 399, 500], left: 0 },
      { bitmap: own, clip: [401, 0, 399, 500], left: 401 },
    ]);
  });

  it('in a grid gives each its own window, the picture first', () => {
    const more = ['third', 'fourth'] as unknown as ImageBitmap[];
    drawBitmaps(fakeCanvas(), size, { ...sheet, more }, view, parted('grid'));
    expect(drawn).toMatchObject([
      { bitmap: own, clip: [0, 0, 399, 249], left: 0 },
      { bitmap: other, clip: [401, 0, 399, 249], left: 401 },
      { bitmap: 'third', clip: [0, 251, 399, 249], left: 0 },
      { bitmap: 'fourth', clip: [401, 251, 399, 249], left: 401 },
    ]);
  });

  it('by a blink shows one or the other', () => {
    for (const blinked of [false, true]) drawBitmaps(fakeCanvas(), size, sheet, view, parted('blink', size, blinked));
    expect(drawn.map(({ bitmap }) => bitmap)).toEqual([own, other]);
  });

  it('by difference lays one onto the other, and that onto itself to be seen', () => {
    const canvas = fakeCanvas();
    drawBitmaps(canvas, size, sheet, view, parted('difference'));
    expect(drawn.map(({ bitmap, by }) => [bitmap, by])).toEqual([
      [own, 'source-over'],
      [other, 'difference'],
      [canvas, 'lighter'],
      [canvas, 'lighter'],
    ]);
  });

  it('is an empty room while there is nothing', () => {
    drawBitmaps(fakeCanvas(), size, undefined, view, parted('off'));
    drawBitmaps(fakeCanvas(), size, sheet, undefined, parted('off'));
    expect(drawn).toMatchObject([]);
    expect(fills).toBe(2);
    drawBitmaps(fakeCanvas(), { width: 0, height: 0 }, sheet, view, parted('off', { width: 0, height: 0 }));
    expect(fills).toBe(2);
  });
});

describe('the ways to compare', () => {
  it('follow each other, and come round to off', () => {
    const seen = [nextCompare('off')];
    while (seen[seen.length - 1] !== 'off') seen.push(nextCompare(seen[seen.length - 1]));
    expect(seen).toHaveLength(COMPARES.length);
    expect(new Set(seen).size).toBe(COMPARES.length);
  });
});
