import { describe, expect, it } from 'vitest';
import { comparedPath } from './comparison';

const paths = { cloth: {}, 'strands[0]': {}, 'cloth.layers[1]@cloth': {} };

describe('the image of another recipe that answers the shown one', () => {
  it('is the same place of another state, and its cloth where that has no such place', () => {
    expect(comparedPath({ kind: 'held' }, 'cloth.layers[1]@cloth', paths)).toBe('cloth.layers[1]@cloth');
    expect(comparedPath({ kind: 'unmasked' }, 'strands[0]', paths)).toBe('strands[0]');
    expect(comparedPath({ kind: 'opened' }, 'strands[4]', paths)).toBe('cloth');
  });

  it('is the cloth of another picture, whatever is shown of this one', () => {
    expect(comparedPath({ kind: 'recipe', id: 'a' }, 'strands[0]', paths)).toBe('cloth');
    expect(comparedPath({ kind: 'palette', name: 'HOO' }, 'strands[0]', paths)).toBe('cloth');
  });
});
