import { describe, expect, it } from 'vitest';
import type { Recipe } from '@owl-loom/recipe/schema';
import type { ViewState, Watch } from '../../store/view';
import { nextWatch, watchable, watchedPath } from './watched';

const recipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  strands: [{ id: 'Ha', from: { stack: 'Ha' }, steps: [{ do: 'stretch' }] }],
  cloth: {
    layers: [
      { id: 'base', of: { strand: 'Ha' } },
      { id: 'glow', of: { layers: [{ id: 'inner', of: { strand: 'Ha' }, steps: [{ do: 'levels' }] }] } },
    ],
    steps: [{ do: 'saturation' }],
  },
};
const paths = { cloth: 1, 'cloth.layers[0]@cloth': 1, 'cloth.layers[1]@cloth': 1 };
const at = (chosen: string, watch: Watch, more: Partial<ViewState> = {}) =>
  watchedPath(recipe, chosen, { watch, compare: 'off', comparisonTarget: { kind: 'before' }, ...more }, paths);

describe('what the picture keeps showing', () => {
  it('is the cloth, or the cloth up to the layer that is worked in', () => {
    expect(at('strands[0].steps[0]', 'cloth')).toBe('cloth');
    expect(at('strands[0].steps[0]', 'layer')).toBe('cloth');
    expect(at('cloth.layers[1].of.layers[0].steps[0]', 'layer')).toBe('cloth.layers[1]@cloth');
    expect(at('cloth.layers[1].of.layers[0].steps[0]', 'cloth')).toBe('cloth');
    expect(at('cloth.steps[0]', 'layer')).toBe('cloth');
  });

  it('is what is chosen, where nothing else is asked for, can be made or is compared', () => {
    expect(at('strands[0]', 'bead')).toBeUndefined();
    expect(at('cloth', 'cloth')).toBeUndefined();
    expect(at('strands[0]', 'cloth', { compare: 'wipe' })).toBeUndefined();
    expect(at('strands[0]', 'cloth', { compare: 'wipe', comparisonTarget: { kind: 'opened' } })).toBe('cloth');
    expect(
      watchedPath(recipe, 'strands[0]', { watch: 'cloth', compare: 'off', comparisonTarget: { kind: 'before' } }, {}),
    ).toBe(undefined);
  });

  it('goes round by a key through what there is', () => {
    const can = watchable(recipe, 'cloth.layers[1].of.layers[0]');
    expect(can).toEqual(['layer', 'cloth']);
    expect(watchable(recipe, 'cloth.layers[1]')).toEqual(['cloth']);
    const ways: Watch[] = ['bead', 'layer', 'cloth'];
    expect(ways.map((way) => nextWatch(way, can))).toEqual(['layer', 'cloth', 'bead']);
    expect(nextWatch('layer', ['cloth'])).toBe('bead');
  });
});
