import { describe, expect, it } from 'vitest';
import type { StackRow } from '@owl-loom/api/stacks';
import { findInconsistencies } from './inconsistencies';

const row = (name: string, change: Partial<StackRow> = {}): StackRow => ({
  id: name,
  targetId: 't',
  name,
  fileName: `${name}.fits`,
  bytes: 1,
  width: 9,
  height: 9,
  planes: 1,
  type: 'float32',
  divisor: 1,
  domain: 'linear',
  filter: name,
  wavelength: null,
  exposure: null,
  edgeZeros: 0,
  edgesBlank: false,
  lacking: null,
  pixels: name,
  object: null,
  wcs: null,
  figures: { planes: [], stars: [] },
  createdAt: '',
  ...change,
});

describe('what is odd in a set', () => {
  it('is nothing where all are alike', () => expect(findInconsistencies([row('Ha'), row('R')])).toEqual([]));

  it('is the stack with another scale than most', () => {
    const [odd, ...rest] = findInconsistencies([row('Ha', { divisor: 65535 }), row('R'), row('G')]);
    expect(rest).toEqual([]);
    expect(odd).toMatchObject({ kind: 'scale', divisor: 1 });
    expect(odd.says).toBe('Full scale differs: Ha uses 65535, the others 1. Correct if the files were saved that way.');
  });

  it('is a stack with zeros at its edge, until they are taken for no data', () => {
    expect(findInconsistencies([row('Ha', { edgeZeros: 0.031 }), row('R')])[0].says).toMatch(
      /Ha has zeros at the edge \(3\.1 %\)/,
    );
    expect(
      findInconsistencies([row('Ha', { edgeZeros: 0.031, edgesBlank: true }), row('R', { edgeZeros: 0.00001 })]),
    ).toEqual([]);
  });
});
