import { describe, expect, it } from 'vitest';
import type { Recipe, Step } from '@owl-loom/recipe/schema';
import { addNoise, scene } from '@owl-loom/testing/random';
import fc from 'fast-check';
import { rectAtLevel } from '@owl-loom/image/pyramid/pyramid';
import { cropPlane } from '@owl-loom/image/raster/raster';
import { recipeOf, type TestStack, evaluateRecipe, evaluateOnLevel } from '@owl-loom/testing/evaluate-recipe';
import { STEP_KINDS } from './index';

const [width, height] = [150, 110];
const field = scene(12, width, height, { clouds: 0.03, stars: 70 });

/** One field in three planes and in two mono stacks, with a hole in each. */
const holed = (plane: Float32Array): Float32Array => {
  for (let y = 50; y < 56; y++) plane.fill(Number.NaN, y * width + 90, y * width + 97);
  return plane;
};
const stacks: Record<string, TestStack> = {
  // Its brightest stars are cut off.
  N: { width, height, planes: [holed(addNoise(field, 0, 1, 0.0005, 1).map((v) => Math.min(v, 0.45)))] },
  B: { width, height, planes: [addNoise(field, 0.01, 2, 0.0008, 2)] },
  C: { width, height, planes: [3, 4, 5].map((seed) => holed(addNoise(field, 0.002 * seed, seed / 4, 0.0005, seed))) },
};

/** What each kind needs beside its defaults; a kind that is new must be named here, or the first test fails. */
const EXAMPLES: Readonly<Record<string, Partial<Step>>> = {
  align: { to: 'B' },
  balance: { shadows: [0.02, 0, -0.01], lights: [0, 0.05, 0] },
  blur: { radius: 2 },
  cap: { colour: 'green', strength: 0.8 },
  calibrate: { method: 'manual', white: [1.2, 1, 0.8] },
  continuum: { broad: 'B', method: 'manual', k: 0.1, mend: true },
  crop: { x: 20, y: 10, width: 100, height: 80 },
  curves: {
    all: [
      [0, 0],
      [0.3, 0.2],
      [1, 1],
    ],
  },
  deconvolve: { rounds: 4 },
  denoise: {},
  floor: { level: 0.03 },
  gradient: {},
  grow: { radius: 4.5 },
  'hue-bands': { bands: [{ centre: 40, width: 360, soft: 0, turn: 30, chroma: 1.3, lightness: 0.02 }] },
  invert: {},
  'level-sky': { level: 0.05 },
  levels: { black: 0.01, white: 0.6 },
  'linear-fit': { to: 'B' },
  'match-seeing': { to: 'B' },
  mend: {
    strokes: [
      {
        radius: 5,
        points: [
          [60, 40],
          [72, 47],
        ],
      },
      { radius: 6, points: [[100, 80]], from: [-25, -14] },
    ],
  },
  place: { degrees: 3 },
  range: { low: 0.03, high: 0.2, feather: 0.02 },
  saturation: { amount: 0.4, shadows: 0.2 },
  scale: { multiply: 2, add: 0.1 },
  sharpen: { radius: 2.5, amount: 0.8, halo: 0.6 },
  split: { radius: 6, keep: 'fine' },
  'star-shrink': {},
  'star-tops': {},
  starless: {},
  'stars-only': {},
  stretch: {},
  structures: { from: 2, to: 16 },
  tint: { colour: '#ffb14a' },
  unmix: {},
};

/** Kinds that move pixels or take some away: what had data may have none after them, and the other way round. */
const MOVING = new Set(['align', 'place', 'crop']);

const kinds = [...STEP_KINDS.values()];
const source = (name: string): 'N' | 'C' => (STEP_KINDS.get(name)?.accepts.planes === 'colour' ? 'C' : 'N');
const recipeWith = (name: string, extra: Partial<Step> = {}): Recipe =>
  recipeOf([
    { id: 'B', from: { stack: 'B' } },
    { id: 'X', from: { stack: source(name) }, steps: [{ do: name, ...EXAMPLES[name], ...extra }] },
  ]);
const made = (name: string, extra?: Partial<Step>) =>
  evaluateRecipe(recipeWith(name, extra), stacks, 'strands[1]').raster;
const own = (name: string) => stacks[source(name)].planes;

describe('every step kind', () => {
  it('stands among the examples', () =>
    expect(kinds.map((kind) => kind.do).sort()).toEqual(Object.keys(EXAMPLES).sort()));

  it.each(kinds.map((kind) => kind.do))('%s does something, and nothing where it is off or has no opacity', (name) => {
    const after = made(name);
    const before = own(name);
    const changed = after.planes.some((plane, p) =>
      plane.some(
        (v, i) =>
          v !== before[p % before.length][i] && !(Number.isNaN(v) && Number.isNaN(before[p % before.length][i])),
      ),
    );
    // These stars lie on those of the other strand, and are as wide.
    if (name !== 'align' && name !== 'match-seeing') expect(changed).toBe(true);
    const off = made(name, { off: true });
    off.planes.forEach((plane, p) => expect(plane).toEqual(before[p]));
    const none = made(name, { opacity: 0 });
    none.planes.forEach((plane, p) =>
      plane.forEach((v, i) => {
        if (!Number.isNaN(v)) expect(v).toBeCloseTo(before[p % before.length][i], 6);
      }),
    );
  });

  it.each(kinds.filter((kind) => kind.reports))('$do reports what its description says', ({ do: name, reports }) => {
    const { measured } = evaluateRecipe(recipeWith(name, {}), stacks, 'strands[1]');
    const report = measured['strands[1].steps[0]'];
    expect(report).toBeDefined();
    expect(reports?.safeParse(report).error?.message).toBeUndefined();
  });

  it.each(kinds.map((kind) => kind.do))('%s in part lies between before and after by its share', (name) => {
    const [half, whole] = [made(name, { opacity: 0.25 }), made(name)];
    const before = own(name);
    whole.planes.forEach((plane, p) => {
      for (let i = 0; i < plane.length; i += 37) {
        const from = before[p % before.length][i];
        const between = from + 0.25 * (plane[i] - from);
        if (!Number.isNaN(between) && !Number.isNaN(half.planes[p][i]))
          expect(half.planes[p][i]).toBeCloseTo(between, 5);
      }
    });
  });

  it.each(kinds.map((kind) => kind.do).filter((name) => !MOVING.has(name)))(
    '%s has no data exactly where its input had none',
    (name) => {
      const before = own(name);
      for (const plane of made(name).planes) {
        const odd = plane.findIndex((v, i) => Number.isNaN(v) !== before.some((input) => Number.isNaN(input[i])));
        expect(odd).toBe(-1);
      }
    },
  );

  it.each(
    kinds.flatMap(({ do: name }) =>
      [0, 1, 2].flatMap((level) => [[name, level, 1] as const, [name, level, 0.5] as const]),
    ),
  )('%s gives on level %i, at opacity %f, for any window what it gives for the whole', (name, level, opacity) => {
    const woven = evaluateRecipe(recipeWith(name, { opacity }), stacks, 'strands[1]');
    const windows = evaluateOnLevel(woven, stacks, 'strands[1]', level);
    const frame = rectAtLevel({ x: 0, y: 0, width, height }, level);
    const whole = windows(frame);
    fc.assert(
      fc.property(
        fc.nat(frame.width - 1),
        fc.nat(frame.height - 1),
        fc.integer({ min: 1, max: 60 }),
        fc.integer({ min: 1, max: 60 }),
        (x, y, w, h) => {
          const rect = { x, y, width: Math.min(w, frame.width - x), height: Math.min(h, frame.height - y) };
          windows(rect).planes.forEach((plane, p) => {
            const wanted = cropPlane(whole.planes[p], frame, rect);
            const odd = plane.findIndex(
              (v, i) => Math.abs(v - wanted[i]) > 1e-6 || Number.isNaN(v) !== Number.isNaN(wanted[i]),
            );
            expect(odd, `${JSON.stringify(rect)} at ${odd}: ${plane[odd]} and ${wanted[odd]}`).toBe(-1);
          });
        },
      ),
      { numRuns: 6 },
    );
  });

  it.each(kinds.filter((kind) => kind.accepts.planes !== 'either').map((kind) => kind.do))(
    '%s refuses the other number of planes in one sentence',
    (name) => {
      const wrong = source(name) === 'C' ? 'N' : 'C';
      const recipe = recipeOf([
        { id: 'B', from: { stack: 'B' } },
        { id: 'X', from: { stack: wrong }, steps: [{ do: name, ...EXAMPLES[name] }] },
      ]);
      expect(() => evaluateRecipe(recipe, stacks, 'strands[1]')).toThrow(/strands\[1\]\.steps\[0\].*(mono|colour)/);
    },
  );
});
