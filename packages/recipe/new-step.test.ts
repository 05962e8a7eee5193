import { describe, expect, it } from 'vitest';
import { addNoise, scene } from '@owl-loom/testing/random';
import { recipeOf, type TestStack, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { pinnedValuesFrom, newStep } from './new-step';
import { STEP_SPECS } from './steps/index';

const [width, height] = [360, 300];
const field = scene(12, width, height, { clouds: 0.02, stars: 90 });
const stacks: Record<string, TestStack> = {
  A: { width, height, planes: [addNoise(field, 0.01, 1, 0.0005, 1)] },
  R: { width, height, planes: [addNoise(field, 0, 2, 0.0005, 2)] },
  C: { width, height, planes: [3, 4, 5].map((seed) => addNoise(field, 0.002 * seed, seed / 4, 0.0005, seed)) },
};
const where = { others: ['A', 'R'], frame: { x: 0, y: 0, width, height } };
const kinds = [...STEP_SPECS.values()];
const strands = (steps: object[], source: string) =>
  recipeOf([
    { id: 'A', from: { stack: 'A' } },
    { id: 'R', from: { stack: 'R' } },
    { id: 'X', from: { stack: source }, steps: steps as [] },
  ]);
const sourceFor = (kind: (typeof kinds)[number]) => (kind.accepts.planes === 'colour' ? 'C' : 'A');

describe('every step kind', () => {
  it.each(kinds.map((kind) => [kind.do, kind] as const))('%s has a name and a sentence', (_, kind) => {
    expect(kind.name).toMatch(/^[a-z ]+$/);
    expect(kind.summary).toMatch(/^[A-Z][^.]{10,70}\.$/);
    for (const text of [kind.hints.for, kind.hints.tooMuch]) expect(text).toMatch(/^[A-Z].{20,110}\.$/);
    expect(kinds.filter(({ hints: watch }) => watch.for === kind.hints.for)).toHaveLength(1);
  });

  it.each(kinds.map((kind) => [kind.do, kind] as const))('%s begins as a step that works', (_, kind) => {
    const step = newStep(kind.do, { ...where, others: kind.do === 'continuum' ? ['A', 'R'] : ['R'] });
    expect(
      kind.params.safeParse(Object.fromEntries(Object.entries(step).filter(([key]) => key !== 'do'))).success,
    ).toBe(true);
    expect(
      evaluateRecipe(strands([step], sourceFor(kind)), stacks, 'strands[2]').raster.planes[0].some(Number.isFinite),
    ).toBe(true);
  });

  it.each(kinds.filter((kind) => kind.pinnable).map((kind) => [kind.do, kind] as const))(
    '%s gives the same pixels with its figures held, whatever else there is',
    (_, kind) => {
      const step = newStep(kind.do, { ...where, others: ['R'] });
      const made = evaluateRecipe(strands([step], sourceFor(kind)), stacks, 'strands[2]');
      const hold = pinnedValuesFrom(kind.do, made.measured['strands[2].steps[0]']);
      expect(Object.keys(hold ?? {})).toEqual(kind.pinnable);
      const again = evaluateRecipe(strands([{ ...step, hold }], sourceFor(kind)), stacks, 'strands[2]').raster;
      again.planes.forEach((plane, p) =>
        plane.forEach((v, i) => {
          const before = made.raster.planes[p][i];
          if (!Number.isNaN(v) || !Number.isNaN(before)) expect(v).toBeCloseTo(before, 6);
        }),
      );
    },
  );
});

it('nothing is held of what is not known, or has nothing to hold', () => {
  expect(pinnedValuesFrom('blur', { radius: 2 })).toBeUndefined();
  expect(pinnedValuesFrom('continuum', undefined)).toBeUndefined();
  expect(pinnedValuesFrom('continuum', { k: Number.NaN })).toBeUndefined();
  expect(
    pinnedValuesFrom('align', {
      matrix: [
        [1, 0, 2],
        [0, 1, 3],
      ],
    }),
  ).toEqual({ matrix: [1, 0, 2, 0, 1, 3] });
  expect(
    pinnedValuesFrom('linear-fit', [
      { a: 1, b: 2 },
      { a: 3, b: 4 },
      { a: 5, b: 6 },
    ]),
  ).toEqual({ a: [1, 3, 5], b: [2, 4, 6] });
  expect(pinnedValuesFrom('linear-fit', { a: 1, b: 2 })).toEqual({ a: 1, b: 2 });
});
