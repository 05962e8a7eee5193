import { describe, expect, it } from 'vitest';
import { clampToLimits, limitsOf } from './limits';

describe('limits of parameters', () => {
  it('are those of the schema', () => {
    expect(limitsOf('blur', 'radius')).toEqual({ min: 0, max: 2000 });
    expect(limitsOf('gradient', 'degree')).toEqual({ min: 1, max: 4 });
    const target = limitsOf('stretch', 'target');
    expect(target.min === 0 && target.max < 1 && target.max > 0.999).toBe(true);
    expect(limitsOf('scale', 'multiply')).toEqual({ min: -Infinity, max: Infinity });
    expect(limitsOf('no such step', 'x')).toEqual({ min: -Infinity, max: Infinity });
  });

  it('hold what is typed, and leave what is no number alone', () => {
    expect(clampToLimits('blur', 'radius', 99_999)).toBe(2000);
    expect(clampToLimits('blur', 'radius', -3)).toBe(0);
    expect(clampToLimits('blur', 'radius', undefined)).toBeUndefined();
    expect(clampToLimits('linear-fit', 'to', 'Ha')).toBe('Ha');
  });
});
