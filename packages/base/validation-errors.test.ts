import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { firstIssue, exceedsDepth } from './validation-errors';

const schema = z.strictObject({
  name: z.string().min(1, 'give it a name').max(5),
  size: z.int().min(1).max(9).optional(),
  id: z.uuid().optional(),
  kind: z.enum(['one', 'two']).optional(),
  steps: z.array(z.strictObject({ degree: z.number() })).optional(),
});

/** What is said of data that do not fit. */
function said(data: unknown): { says: string; path: string } {
  const { error } = schema.safeParse(data);
  if (!error) throw new Error('it fits');
  return firstIssue(error, data);
}

describe('the first fault of a check', () => {
  it.each([
    [{}, 'name', 'Missing; must be a string.'],
    [{ name: 7 }, 'name', 'Must be a string, not 7.'],
    [{ name: '' }, 'name', 'give it a name.'],
    [{ name: 'far too long' }, 'name', 'Must be at most 5 characters long.'],
    [{ name: 'x', size: 0 }, 'size', 'Must be at least 1.'],
    [{ name: 'x', size: 10 }, 'size', 'Must be at most 9.'],
    [{ name: 'x', size: 1.5 }, 'size', 'Must be an int, not 1.5.'],
    [{ name: 'x', id: 'nobody' }, 'id', '"nobody" has the wrong format.'],
    [{ name: 'x', kind: 'three' }, 'kind', 'Must be "one" or "two", not "three".'],
    [{ name: 'x', more: 1 }, 'more', 'Unknown key "more". Check the spelling or remove it.'],
    [{ name: 'x', steps: [{ degree: 1 }, { degree: '2' }] }, 'steps[1].degree', 'Must be a number, not "2".'],
    ['x', '', 'Must be an object, not "x".'],
  ])('of %j is told where it lies, in words for people', (data, path, says) => {
    expect(said(data)).toEqual({ path, says });
  });
});

describe('how deep data lie', () => {
  const nested = (depth: number): unknown => Array.from({ length: depth }).reduce<unknown>((inner) => [inner], 1);

  it('is told to the step', () => {
    for (const depth of [0, 1, 7, 60]) {
      expect(exceedsDepth(nested(depth), depth)).toBe(false);
      if (depth > 0) expect(exceedsDepth(nested(depth), depth - 1)).toBe(true);
    }
    expect(exceedsDepth({ a: { b: [1, { c: 2 }] }, d: 1 }, 3)).toBe(true);
    expect(exceedsDepth({ a: { b: [1, { c: 2 }] }, d: 1 }, 4)).toBe(false);
  });

  it('takes no climbing: what is nested by the hundred thousand is told as well', () => {
    expect(exceedsDepth(nested(100_000), 50)).toBe(true);
  });
});
