import { expect, it } from 'vitest';
import type { Figure } from '../../core/figures/index';
import { pass, take } from './passed';

const figure: Figure = { kind: 'middle', planes: [{ median: 0.25, mean: Number.NaN }] };

it('a figure that was passed is what it was, and read once', () => {
  const way = pass('a', figure);
  const there = take(way);
  expect(there).toEqual(figure);
  expect(there).not.toBe(figure);
  expect(take(pass('a', figure))).toBe(there);
});

it('its bytes are made once and shared', () => {
  const { bytes } = pass('b', figure);
  expect(pass('c', figure).bytes).toBe(bytes);
  expect(structuredClone(bytes).buffer).toBeInstanceOf(SharedArrayBuffer);
});

it('of more figures than a thread keeps, the one read longest ago is read again', () => {
  const large = (n: number): Figure => ({
    kind: 'middle',
    planes: Array.from({ length: 400_000 }, () => ({ median: n, mean: n })),
  });
  const first = take(pass('large 0', large(0)));
  for (let n = 1; n < 8; n++) take(pass(`large ${n}`, large(n)));
  const again = take(pass('large 0', large(0)));
  expect(again).not.toBe(first);
  expect(again).toEqual(first);
});
