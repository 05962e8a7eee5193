import { describe, expect, it } from 'vitest';
import type { Mask, Recipe, Step } from '@owl-loom/recipe/schema';
import { strandsInUse } from '@owl-loom/recipe/walk';
import { addNoise, scene } from '@owl-loom/testing/random';
import { graphOf, mono, recipeOf, strand, type TestStack, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { Evaluator } from './evaluator';

const [width, height] = [40, 30];
const a = mono(width, height, (x) => x / 40);
const b = mono(width, height, (_, y) => 0.2 + y / 60);
const c = mono(width, height, (x, y) => ((x * 7 + y * 3) % 11) / 10);
const stacks = { A: a, B: b, C: c };
const stretched = Object.fromEntries(
  Object.entries(stacks).map(([id, stack]): [string, TestStack] => [id, { ...stack, domain: 'stretched' }]),
);
const strands = ['A', 'B', 'C'].map((id) => strand(id));
const planeOf = (recipe: Recipe, path = 'cloth') => evaluateRecipe(recipe, stretched, path).raster.planes[0];
const held = (v: number) => Math.min(1, Math.max(0, v));

const layers = (mask: string | Mask, masks?: Recipe['masks']): Recipe => ({
  ...recipeOf(strands, {
    layers: [
      { id: 'one', of: { strand: 'A' } },
      { id: 'two', of: { strand: 'B' }, opacity: 0.8, mask },
    ],
  }),
  ...(masks && { masks }),
});

function expectMixed(recipe: Recipe, share: (i: number) => number, path = 'cloth'): void {
  planeOf(recipe, path).forEach((v, i) => {
    const [from, to] = [a.planes[0][i], b.planes[0][i]];
    expect(v).toBeCloseTo(from + (to - from) * share(i), 6);
  });
}

describe('a mask', () => {
  it('shared or written in place lays a layer on by as much as it shows', () => {
    const share = (i: number) => 0.8 * c.planes[0][i];
    expectMixed(layers({ of: { strand: 'C' } }), share);
    expectMixed(layers('gas', [{ id: 'gas', of: { strand: 'C' } }]), share);
  });

  it('goes through its steps, its paint, and is inverted last', () => {
    const mask: Mask = {
      of: { strand: 'C' },
      steps: [{ do: 'scale', multiply: 1.5, add: -0.2 }],
      paint: [{ shape: 'ellipse', x: -0.5, y: -0.5, width: 40, height: 30, mode: 'hide', strength: 0.5 }],
      invert: true,
    };
    const recipe = layers(mask);
    // Far from the ellipse's rim: its middle.
    const i = 15 * width + 20;
    const value = 1 - 0.5 * (1.5 * c.planes[0][i] - 0.2);
    expect(planeOf(recipe, 'cloth.layers[1].mask')[i]).toBeCloseTo(value, 6);
    const [from, to] = [a.planes[0][i], b.planes[0][i]];
    expect(planeOf(recipe)[i]).toBeCloseTo(from + (to - from) * 0.8 * held(value), 6);
  });

  it('is held to 0–1 where it is used, and no earlier', () => {
    const mask: Mask = { of: { strand: 'C' }, steps: [{ do: 'scale', multiply: 4, add: -1.5 }] };
    const value = (i: number) => 4 * c.planes[0][i] - 1.5;
    expectMixed(layers(mask), (i) => 0.8 * held(value(i)));
    planeOf(layers(mask), 'cloth.layers[1].mask').forEach((v, i) => expect(v).toBeCloseTo(value(i), 5));
  });

  it('of a colour is its luminance, a blank sheet shows all', () => {
    expectMixed(layers({ of: { colour: '#ffffff' } }), () => 0.8);
    expectMixed(layers({ of: { colour: '#00ff00' } }), () => 0.8 * 0.7152);
    const tinted: Mask = { of: { strand: 'C' }, steps: [{ do: 'tint', colour: '#ff00ff' }] };
    expectMixed(layers(tinted), (i) => 0.8 * c.planes[0][i] * (0.2126 + 0.0722));
  });

  it('shows the cloth below the layer that it is used on, and each use its own', () => {
    const recipe = {
      ...recipeOf(strands, {
        layers: [
          { id: 'one', of: { strand: 'A' } },
          { id: 'two', of: { strand: 'B' }, mask: 'under' },
          { id: 'three', of: { strand: 'A' }, mask: 'under' },
        ],
        steps: [{ do: 'scale', multiply: 0.5, mask: 'under' } satisfies Step],
      }),
      masks: [{ id: 'under', of: { below: true as const } }],
    };
    planeOf(recipe).forEach((v, i) => {
      const [x, y] = [a.planes[0][i], b.planes[0][i]];
      const two = x + (y - x) * held(x);
      const three = two + (x - two) * held(two);
      expect(v).toBeCloseTo(three - 0.5 * three * held(three), 6);
    });
  });

  it('on a step of a strand may show what comes into the step', () => {
    const steps: Step[] = [
      { do: 'scale', multiply: 0.5 },
      { do: 'scale', multiply: 3, mask: { of: { below: true } } },
    ];
    planeOf(recipeOf([strand('A', steps)]), 'strands[0]').forEach((v, i) => {
      const x = 0.5 * a.planes[0][i];
      expect(v).toBeCloseTo(x + 2 * x * held(x), 5);
    });
  });

  it('takes a step in part, on a strand as well; where it shows nothing the step leaves no trace, not even of lost data', () => {
    const steps: Step[] = [{ do: 'scale', multiply: 3, mask: { of: { strand: 'C' } }, opacity: 0.5 }];
    planeOf(recipeOf([strand('A', steps), strand('C')]), 'strands[0]').forEach((v, i) => {
      const x = a.planes[0][i];
      expect(v).toBeCloseTo(x + 2 * x * 0.5 * c.planes[0][i], 5);
    });
    const black: Mask = { of: { colour: '#000000' } };
    const cropped: Step[] = [{ do: 'crop', x: 5, y: 5, width: 9, height: 9, mask: black }];
    expect([...planeOf(recipeOf([strand('A', cropped)]), 'strands[0]')]).toEqual([...a.planes[0]]);
  });

  it('without data hides', () => {
    const holed = { ...stretched, C: mono(width, height, (x) => (x < 20 ? Number.NaN : 1)) };
    const { raster } = evaluateRecipe(layers({ of: { strand: 'C' } }), holed);
    raster.planes[0].forEach((v, i) => {
      const [from, to] = [a.planes[0][i], b.planes[0][i]];
      expect(v).toBeCloseTo(i % width < 20 ? from : from + (to - from) * 0.8, 6);
    });
  });

  it('of a bottom layer lets it lie on black', () => {
    const cloth = { layers: [{ of: { strand: 'A' }, mask: { of: { strand: 'C' } } }] };
    planeOf(recipeOf(strands, cloth)).forEach((v, i) => expect(v).toBeCloseTo(a.planes[0][i] * c.planes[0][i], 6));
  });

  it('never warns of linear data, while what it is made of warns of itself', () => {
    const steps: Step[] = [{ do: 'levels' }];
    const inMask = layers({ of: { mix: { red: { A: 1 }, green: { S: 1 } } }, steps });
    const bad = { ...inMask, strands: [...strands, strand('S', [{ do: 'stretch' }]), strand('T', steps)] };
    expect(graphOf(bad, { ...stacks, S: a, T: a }).warnings.map(({ path }) => path)).toEqual(['strands[4].steps[0]']);
  });

  it('may have a mask on a step of its own', () => {
    const mask: Mask = { of: { strand: 'C' }, steps: [{ do: 'scale', multiply: 0, mask: 'half' }] };
    const recipe = layers(mask, [{ id: 'half', of: { colour: '#808080' } }]);
    expectMixed(recipe, (i) => 0.8 * c.planes[0][i] * (1 - 128 / 255));
  });
});

describe('the stars of a strand as a mask', () => {
  const made = addNoise(scene(5, 200, 160, { stars: 30, clouds: 0 }), 0, 1, 0.0004, 3);
  const sky: TestStack = { width: 200, height: 160, planes: [made] };
  const maskOf = (grow: number) => {
    const recipe = { ...recipeOf([strand('L')]), masks: [{ id: 'stars', of: { starMask: 'L', grow } }] };
    return evaluateRecipe(recipe, { L: sky }, 'masks[0]').raster.planes[0];
  };

  it('shows all of them and hides the sky, the more of it the more it is grown', () => {
    const mask = maskOf(1.5);
    const inside = (i: number) => i % 200 > 15 && i % 200 < 184 && i > 200 * 15 && i < 200 * 144;
    const bright = [...made.keys()].filter((i) => made[i] > 0.1 && inside(i));
    expect(bright.length).toBeGreaterThan(20);
    for (const i of bright) expect(mask[i]).toBe(1);
    const share = (values: Float32Array) => values.reduce((sum, v) => sum + v, 0) / values.length;
    expect(share(mask)).toBeGreaterThan(0.01);
    expect(share(mask)).toBeLessThan(0.35);
    expect(share(maskOf(2.5))).toBeGreaterThan(1.5 * share(mask));
    for (const v of mask) expect(v >= 0 && v <= 1).toBe(true);
  });
});

describe('masks that do not hold together', () => {
  it.each([
    [
      'one that is not there',
      layers('gas', [{ id: 'dust', of: { strand: 'A' } }]),
      'cloth.layers[1].mask',
      /Mask “gas” not found\. Available: dust/,
    ],
    [
      'one of a strand that is not there',
      layers({ of: { strand: 'Q' } }),
      'cloth.layers[1].mask.of.strand',
      /Strand “Q” not found/,
    ],
    [
      'a ramp from a place to itself',
      layers({ of: { colour: '#ffffff' }, paint: [{ shape: 'ramp', from: [3, 3], to: [3, 3], mode: 'hide' }] }),
      'cloth.layers[1].mask.paint[0].to',
      /A ramp needs two different points/,
    ],
    [
      'one that needs itself',
      layers('gas', [{ id: 'gas', of: { strand: 'A' }, steps: [{ do: 'scale', mask: 'gas' }] }]),
      'masks[0].steps[0].mask',
      /gas uses itself/,
    ],
    [
      'one that shows what is below where nothing is',
      recipeOf([strand('A')], { layers: [{ of: { strand: 'A' }, mask: { of: { below: true } } }] }),
      'cloth.layers[0].mask.of.below',
      /The lowest layer has nothing below it/,
    ],
  ])('%s', (_, recipe, path, message) => {
    const { faults } = graphOf(recipe, stacks);
    expect(faults.map((error) => error.path)).toContain(path);
    expect(faults.find((error) => error.path === path)?.message).toMatch(message);
  });

  it('a strand and a mask that need each other are refused together', () => {
    const recipe = {
      ...recipeOf([strand('A', [{ do: 'scale', mask: 'gas' }])]),
      masks: [{ id: 'gas', of: { strand: 'A' } }],
    };
    expect(graphOf(recipe, stacks).faults[0].message).toMatch(/A → gas → A/);
  });

  it('that of a hidden layer, and one that nobody uses, spoil nothing', () => {
    const recipe = layers({ of: { strand: 'Q' } }, [{ id: 'unused', of: { strand: 'Q' } }]);
    const { layers: list } = recipe.cloth ?? { layers: [] };
    const hidden = { ...recipe, cloth: { layers: [list[0], { ...list[1], visible: false }] } };
    const graph = graphOf(hidden, stacks);
    expect(graph.cloth).toBeDefined();
    expect(graph.faults.map(({ path }) => path)).toContain('masks[0].of.strand');
  });
});

it('a strand read by two layers and two masks is made once, and so is a mask that two layers are seen through', () => {
  const recipe: Recipe = {
    ...recipeOf([strand('A', [{ do: 'blur', radius: 2 }])], {
      layers: [
        { of: { strand: 'A' } },
        { of: { strand: 'A' }, blend: 'add', mask: 'soft' },
        { of: { colour: '#ff0000' }, mask: 'soft' },
        { of: { colour: '#00ff00' }, mask: { of: { strand: 'A' } } },
      ],
    }),
    masks: [{ id: 'soft', of: { strand: 'A' }, steps: [{ do: 'blur', radius: 3 }] }],
  };
  const graph = graphOf(recipe, stacks);
  expect(graph.faults).toEqual([]);
  const calls = new Map<number, number>();
  const nodes = graph.nodes.map((node) => {
    const { kernel } = node;
    if (!kernel) return node;
    const bind: typeof kernel.prepare = (figures, level) => {
      const apply = kernel.prepare(figures, level);
      return (...given) => {
        calls.set(node.node, (calls.get(node.node) ?? 0) + 1);
        apply(...given);
      };
    };
    return { ...node, kernel: { ...kernel, prepare: bind } };
  });
  const evaluator = new Evaluator({ ...graph, nodes }, new Map(), 0);
  const frame = { x: 0, y: 0, width, height };
  evaluator.run(evaluator.plan(graph.cloth ?? -1, frame), () => ({ rect: frame, pixels: a.planes[0] }));
  const blurs = nodes.filter(({ kind }) => kind === 'blur').map(({ node }) => calls.get(node));
  expect(blurs).toEqual([1, 1]);
  expect([...strandsInUse(recipe)]).toEqual(['A']);
});
