import { expect, it } from 'vitest';
import { STEP_SPECS } from '@owl-loom/recipe/steps/index';
import { STEP_KINDS } from './index';

it('every step that a recipe may name is worked by the engine, and no other', () => {
  expect([...STEP_KINDS.keys()].sort()).toEqual([...STEP_SPECS.keys()].sort());
});

it.each([...STEP_KINDS])('%s builds pixels or moves the image, as its description says', (name, kind) => {
  expect(kind.params).toBe(STEP_SPECS.get(name)?.params);
  expect(kind.move !== undefined).toBe(kind.moves === true);
  expect(kind.build !== undefined).toBe(kind.moves !== true);
});
