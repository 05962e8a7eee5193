import fc from 'fast-check';
import { expect, it } from 'vitest';
import { parseJsonOrUndefined, tooMuchIn } from './json';

const bytes = (text: string) => Buffer.from(text);

/** Lists and objects of a value, and how many lie within each other, by walking it. */
function sizeOf(value: unknown): { lists: number; nested: number } {
  if (typeof value !== 'object' || value === null) return { lists: 0, nested: 0 };
  const inner = Object.values(value).map(sizeOf);
  return {
    lists: 1 + inner.reduce((sum, { lists }) => sum + lists, 0),
    nested: 1 + Math.max(0, ...inner.map(({ nested }) => nested)),
  };
}

it('counts the lists of a text as reading it would, whatever stands in its strings', () => {
  const text = fc.oneof(fc.string(), fc.constantFrom('[[[', '{"', '\\"[', ']]]', '\\\\'));
  const value = fc.letrec((tie) => ({
    any: fc.oneof(
      { maxDepth: 6 },
      text,
      fc.integer(),
      fc.array(tie('any'), { maxLength: 4 }),
      fc.dictionary(text, tie('any'), { maxKeys: 4 }),
    ),
  })).any;
  fc.assert(
    fc.property(value, (made) => {
      const { lists, nested } = sizeOf(made);
      const json = bytes(JSON.stringify(made));
      expect(tooMuchIn(json, { lists, nested })).toBeUndefined();
      if (lists > 0) expect(tooMuchIn(json, { lists: lists - 1, nested })).toBe('lists');
      if (nested > 0) expect(tooMuchIn(json, { lists, nested: nested - 1 })).toBe('nested');
    }),
  );
});

it('says so of a bomb before it has seen all of it', () => {
  expect(tooMuchIn(bytes('['.repeat(4_000_000)), { lists: 400_000, nested: 250 })).toBe('nested');
  expect(tooMuchIn(bytes(`[${'[],'.repeat(1_300_000)}0]`), { lists: 400_000, nested: 250 })).toBe('lists');
});

it('gives undefined for what is no JSON', () => {
  expect(parseJsonOrUndefined('{"a":')).toBeUndefined();
  expect(parseJsonOrUndefined('[1]')).toEqual([1]);
});
