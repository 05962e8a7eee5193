import { describe, expect, it } from 'vitest';
import { pathBeside } from './against';

const paths = { cloth: {}, 'strands[0]': {}, 'cloth.layers[1]@cloth': {} };

describe('the image of another recipe that answers the shown one', () => {
  it('is the same place of another state, and its cloth where that has no such place', () => {
    expect(pathBeside({ kind: 'held' }, 'cloth.layers[1]@cloth', paths)).toBe('cloth.layers[1]@cloth');
    expect(pathBeside({ kind: 'unmasked' }, 'strands[0]', paths)).toBe('strands[0]');
    expect(pathBeside({ kind: 'opened' }, 'strands[4]', paths)).toBe('cloth');
  });

  it('is the cloth of another picture, whatever is shown of this one', () => {
    expect(pathBeside({ kind: 'recipe', id: 'a' }, 'strands[0]', paths)).toBe('cloth');
    expect(pathBeside({ kind: 'palette', name: 'HOO' }, 'strands[0]', paths)).toBe('cloth');
  });
});
