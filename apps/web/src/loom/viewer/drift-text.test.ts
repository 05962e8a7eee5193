import { describe, expect, it } from 'vitest';
import { driftText, guardText, percent } from './drift-text';

const told = { hue: 0.004, lightness: 0, chroma: 0.2, most: null };

describe('what has moved, in words', () => {
  it('is a share and what it did', () => {
    expect(driftText(told, 'hue')).toBe('0.4 % changed hue by more than 5°');
    expect(driftText(told, 'lightness')).toBe('nothing changed lightness by more than 0.02');
    expect(percent(0.0004)).toBe('under 0.1 %');
  });

  it('of a guarded place is only what is worth a warning', () => {
    expect(guardText(told)).toBe('20.0 % changed chroma by more than 0.02');
    expect(guardText({ ...told, chroma: 0.01 })).toBeUndefined();
  });
});
