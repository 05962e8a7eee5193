import { expect, it } from 'vitest';
import type { Measurement } from '@owl-loom/engine/measurements/index';
import { shareMeasurement, receiveMeasurement } from './shared-measurement';

const figure: Measurement = { kind: 'middle', planes: [{ median: 0.25, mean: Number.NaN }] };

it('a figure that was passed is what it was, and read once', () => {
  const way = shareMeasurement('a', figure);
  const there = receiveMeasurement(way);
  expect(there).toEqual(figure);
  expect(there).not.toBe(figure);
  expect(receiveMeasurement(shareMeasurement('a', figure))).toBe(there);
});

it('its bytes are made once and shared', () => {
  const { bytes } = shareMeasurement('b', figure);
  expect(shareMeasurement('c', figure).bytes).toBe(bytes);
  expect(structuredClone(bytes).buffer).toBeInstanceOf(SharedArrayBuffer);
});

it('of more figures than a thread keeps, the one read longest ago is read again', () => {
  const planes = (n: number) => [{ median: n, mean: n }];
  const large = (n: number): Measurement =>
    Object.assign({ kind: 'middle' as const, planes: planes(n) }, { padding: 'x'.repeat(12 * 2 ** 20) });
  const first = receiveMeasurement(shareMeasurement('large 0', large(0)));
  for (let n = 1; n < 8; n++) receiveMeasurement(shareMeasurement(`large ${n}`, large(n)));
  const again = receiveMeasurement(shareMeasurement('large 0', large(0)));
  expect(again).not.toBe(first);
  expect(again).toMatchObject({ kind: 'middle', planes: planes(0) });
});
