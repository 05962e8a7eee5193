import { describe, expect, it } from 'vitest';
import type { Recipe } from './schema';
import { pinnedStepsAffectedBy, describeReplacement } from './stack-replacement';

const facts = { noise: 0.0006, sky: 0.02, fwhm: 2.6, exposure: 3600, width: 100, height: 80 };

describe('what has changed in a renewed stack', () => {
  it('is told in words, and only what anyone cares about', () => {
    expect(describeReplacement(facts, facts)).toEqual([]);
    expect(describeReplacement(facts, { ...facts, noise: 0.0004, fwhm: 3.0, exposure: 7800, sky: 0.0201 })).toEqual([
      'exposure 117 % longer (1 h 00 min → 2 h 10 min)',
      'noise 33 % less (0.0006 → 0.0004)',
      'stars 15 % wider (2.6 px → 3 px)',
    ]);
    expect(describeReplacement(facts, { ...facts, width: 120, noise: null })).toEqual(['100 × 80 px → 120 × 80 px']);
  });
});

describe('pinned figures of what a stack was', () => {
  const recipe: Recipe = {
    format: 'owl-loom-recipe',
    version: 1,
    strands: [
      { id: 'Ha', from: { stack: 'sHa' }, steps: [{ do: 'continuum', broad: 'R', hold: { k: 0.2 } }] },
      { id: 'R', from: { stack: 'sR' }, steps: [{ do: 'linear-fit', to: 'B', hold: { a: 0, b: 1 } }] },
      { id: 'B', from: { stack: 'sB' }, steps: [] },
    ],
    cloth: {
      layers: [
        { of: { strand: 'Ha' }, steps: [{ do: 'stretch', hold: { strength: 3 } }] },
        { of: { strand: 'B' }, steps: [{ do: 'stretch', hold: { strength: 3 } }] },
      ],
    },
  };

  it('are those on its strand, on what is made of it, and on the layers that read it', () => {
    expect(pinnedStepsAffectedBy(recipe, 'sHa')).toEqual(['strands[0].steps[0]', 'cloth.layers[0].steps[0]']);
    // The continuum of Ha is made of R as well, whose fit is brought to B.
    expect(pinnedStepsAffectedBy(recipe, 'sR')).toEqual([
      'strands[0].steps[0]',
      'strands[1].steps[0]',
      'cloth.layers[0].steps[0]',
    ]);
    expect(pinnedStepsAffectedBy(recipe, 'sB')).toContain('strands[1].steps[0]');
    expect(pinnedStepsAffectedBy(recipe, 'none')).toEqual([]);
  });
});
