import { beforeEach, describe, expect, it, vi } from 'vitest';
import { COMPARES, nextCompare } from './compare';
import { paint, type Sheet } from './paint';
import type { Viewport, Window } from './viewport';

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
const pane = (width: number): Window => ({ width, height: 500, turn: 0, flip: 'none' });
const [own, other] = ['own', 'other'] as unknown as [ImageBitmap, ImageBitmap];
const sheet: Sheet = { bitmap: own, other, rect: { x: 0, y: 0, width: 200, height: 120 }, level: 0 };

beforeEach(() => {
  drawn = [];
  fills = 0;
});

describe('painting a sheet', () => {
  it('alone fills the window', () => {
    const canvas = fakeCanvas();
    paint(canvas, size, { ...sheet, other: null }, view, {
      pane: pane(800),
      compare: 'wipe',
      edge: 0.3,
      blinked: false,
    });
    expect(drawn).toMatchObject([{ bitmap: own, clip: [0, 0, 800, 500], left: 0 }]);
    expect([canvas.width, canvas.height]).toEqual([1600, 1000]);
  });

  it('by a wipe shows the other up to the edge, both at the same place', () => {
    paint(fakeCanvas(), size, sheet, view, { pane: pane(800), compare: 'wipe', edge: 0.3, blinked: false });
    expect(drawn).toMatchObject([
      { bitmap: other, clip: [0, 0, 240, 500], left: 0 },
      { bitmap: own, clip: [240, 0, 560, 500], left: 0 },
    ]);
  });

  it('side by side gives each its own half', () => {
    paint(fakeCanvas(), size, sheet, view, { pane: pane(399), compare: 'side', edge: 0.3, blinked: false });
    expect(drawn).toMatchObject([
      { bitmap: other, clip: [0, 0, 399, 500], left: 0 },
      { bitmap: own, clip: [401, 0, 399, 500], left: 401 },
    ]);
  });

  it('by a blink shows one or the other', () => {
    for (const blinked of [false, true])
      paint(fakeCanvas(), size, sheet, view, { pane: pane(800), compare: 'blink', edge: 0.3, blinked });
    expect(drawn.map(({ bitmap }) => bitmap)).toEqual([own, other]);
  });

  it('by difference lays one onto the other, and that onto itself to be seen', () => {
    const canvas = fakeCanvas();
    paint(canvas, size, sheet, view, { pane: pane(800), compare: 'difference', edge: 0.3, blinked: false });
    expect(drawn.map(({ bitmap, by }) => [bitmap, by])).toEqual([
      [own, 'source-over'],
      [other, 'difference'],
      [canvas, 'lighter'],
      [canvas, 'lighter'],
    ]);
  });

  it('is an empty room while there is nothing', () => {
    paint(fakeCanvas(), size, undefined, view, { pane: pane(800), compare: 'off', edge: 0.5, blinked: false });
    paint(fakeCanvas(), size, sheet, undefined, { pane: pane(800), compare: 'off', edge: 0.5, blinked: false });
    expect(drawn).toMatchObject([]);
    expect(fills).toBe(2);
    paint(fakeCanvas(), { width: 0, height: 0 }, sheet, view, {
      pane: pane(0),
      compare: 'off',
      edge: 0.5,
      blinked: false,
    });
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
