import { describe, expect, it } from 'vitest';
import { diffRecipes } from './diff';
import type { Recipe } from './schema';
import { withPartFrom } from './restore-part';

const before: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  strands: [
    { id: 'Ha', from: { stack: 'Ha' }, steps: [{ do: 'denoise' }] },
    { id: 'OIII', from: { stack: 'OIII' } },
  ],
  masks: [{ id: 'gas', of: { strand: 'Ha' } }],
  cloth: {
    layers: [
      { id: 'base', of: { strand: 'Ha' }, steps: [{ do: 'stretch' }] },
      { id: 'glow', name: 'glow of sulfur', of: { strand: 'OIII' }, blend: 'screen', mask: 'gas' },
    ],
    steps: [{ do: 'levels', black: 0.1 }],
    extent: 'common',
  },
};
const now: Recipe = {
  ...before,
  strands: [
    { id: 'Ha', from: { stack: 'Ha' }, steps: [] },
    { id: 'OIII', from: { stack: 'OIII' } },
    { id: 'idle', from: { stack: 'R' } },
    { id: 'read', from: { stack: 'R' } },
  ],
  masks: [{ id: 'gas', of: { strand: 'OIII' }, invert: true }],
  cloth: {
    layers: [
      { id: 'base', of: { strand: 'read' }, steps: [{ do: 'stretch', target: 0.2 }] },
      { id: 'more', of: { strand: 'Ha' } },
    ],
    steps: [
      { do: 'levels', black: 0.02 },
      { do: 'saturation', amount: 0.3 },
    ],
  },
};

describe('one thing of another state', () => {
  it.each(['Ha', 'idle', 'mask gas', 'layer base', 'layer glow of sulfur', 'layer more', 'picture'])('%s', (where) => {
    const mixed = withPartFrom(now, before, where);
    expect(mixed).toBeDefined();
    const left = mixed ? diffRecipes(mixed, before).filter((one) => one.where === where) : [];
    expect(left.filter(({ what }) => !what.includes('order changed'))).toEqual([]);
    // And nothing else has changed.
    const other = (list: ReturnType<typeof diffRecipes>) =>
      list
        .filter((one) => one.where !== where && one.where !== 'picture')
        .map(({ where: at, what }) => `${at} ${what}`);
    if (mixed) expect(other(diffRecipes(mixed, before))).toEqual(other(diffRecipes(now, before)));
  });

  it('is not taken where nobody has it, or where a strand would go that is still read', () => {
    expect(withPartFrom(now, before, 'layer nothing')).toBeUndefined();
    expect(withPartFrom(now, before, 'mask nothing')).toBeUndefined();
    expect(withPartFrom(now, before, 'nothing')).toBeUndefined();
    expect(withPartFrom(now, before, 'read')).toBeUndefined();
  });
});
