import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Recipe, Step } from '@owl-loom/recipe/schema';
import { addNoise, scene } from '@owl-loom/testing/random';
import { graphOf, mono, strand, recipeOf, type TestStack, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { Evaluator } from './evaluator';
import type { Graph, GraphNode } from './graph';
import { measurementsRequiredBy, cheapestPlan } from './measurement-plan';

const [width, height] = [60, 50];
const stack = mono(width, height, (x, y) => Math.sin(x * 0.4) + 0.01 * y);
const frame = { x: 0, y: 0, width, height };

const graphOfBoth = (recipe: Recipe): Graph => graphOf(recipe, { A: stack, B: stack });

/** The graph with kernels that count: calls, and pixels that they were asked for. */
function counting(graph: Graph): { graph: Graph; calls: Map<number, number>; pixels: Map<number, number> } {
  const calls = new Map<number, number>();
  const pixels = new Map<number, number>();
  const add = (to: Map<number, number>, node: number, n: number) => to.set(node, (to.get(node) ?? 0) + n);
  const nodes = graph.nodes.map((node): GraphNode => {
    const { kernel } = node;
    if (!kernel) return node;
    const bind: typeof kernel.prepare = (figures, level) => {
      const apply = kernel.prepare(figures, level);
      return (inputs, out, tally) => {
        add(calls, node.node, 1);
        add(pixels, node.node, out.rect.width * out.rect.height);
        apply(inputs, out, tally);
      };
    };
    return { ...node, kernel: { ...kernel, prepare: bind } };
  });
  return { graph: { ...graph, nodes }, calls, pixels };
}

function run(graph: Graph, path: string, keep: ReadonlySet<number> = new Set()) {
  const evaluator = new Evaluator(graph, new Map(), 0);
  const plan = evaluator.plan(graph.byPath.get(path) ?? -1, frame);
  const made = evaluator.run(plan, () => ({ rect: frame, pixels: stack.planes[0] }), keep);
  return { ...made, plan };
}

const blur: Step = { do: 'blur', radius: 2, opacity: 0.5 };

describe('every image is made once', () => {
  it.each([1, 2, 5, 9])('%d blurs taken in part call as many blurs', (n) => {
    const recipe = recipeOf([{ id: 'A', from: { stack: 'A' }, steps: Array.from({ length: n }, () => blur) }]);
    const { graph, calls } = counting(graphOfBoth(recipe));
    run(graph, 'strands[0]');
    const blurs = graph.nodes.filter((node) => node.kind === 'blur');
    expect(blurs).toHaveLength(n);
    expect(blurs.map((node) => calls.get(node.node))).toEqual(blurs.map(() => 1));
  });

  it('a strand that two layers and two other strands read is one image, pointwise steps and all', () => {
    const recipe = recipeOf(
      [
        {
          id: 'A',
          from: { stack: 'A' },
          steps: [
            { do: 'scale', multiply: 2 },
            { do: 'blur', radius: 3 },
          ],
        },
        { id: 'B', from: { strand: 'A' }, steps: [{ do: 'blur', radius: 1 }] },
        { id: 'C', from: { formula: 'A - B' } },
      ],
      {
        layers: [
          { of: { strand: 'A' }, steps: [{ do: 'blur', radius: 4 }] },
          { of: { strand: 'A' }, blend: 'add', opacity: 0.5 },
          { of: { strand: 'B' }, blend: 'add' },
          { of: { strand: 'C' }, blend: 'add' },
        ],
      },
    );
    const { graph, calls, pixels } = counting(graphOfBoth(recipe));
    const { plan } = run(graph, 'cloth');
    for (const node of graph.nodes) {
      if (!node.kernel || !plan.windows.has(node.node)) continue;
      const window = plan.windows.get(node.node) ?? frame;
      expect(pixels.get(node.node), node.path).toBe(window.width * window.height);
      if (node.kernel.inputRoi) expect(calls.get(node.node), node.path).toBe(1);
    }
  });

  it('a chain of diamonds gives the pixels that plain arithmetic gives', () => {
    const steps: Step[] = Array.from({ length: 6 }, () => ({ do: 'scale', multiply: 3, add: 0.1, opacity: 0.5 }));
    const { raster } = evaluateRecipe(recipeOf([{ id: 'A', from: { stack: 'A' }, steps }]), { A: stack }, 'strands[0]');
    raster.planes[0].forEach((v, i) => {
      let x = stack.planes[0][i];
      for (let k = 0; k < 6; k++) x += 0.5 * (3 * x + 0.1 - x);
      expect(v).toBeCloseTo(x, 3);
    });
  });

  it('what is to be kept comes along, and nothing else', () => {
    const recipe = recipeOf([{ id: 'A', from: { stack: 'A' }, steps: [{ do: 'scale', multiply: 2 }, blur] }]);
    const graph = graphOfBoth(recipe);
    const scaled = graph.byPath.get('strands[0].steps[0]') ?? -1;
    const { kept } = run(graph, 'strands[0]', new Set([scaled]));
    expect([...kept.keys()]).toEqual([scaled]);
    expect(kept.get(scaled)?.planes[0][7]).toBeCloseTo(2 * stack.planes[0][7], 6);
  });
});

describe('what is counted', () => {
  it('is counted once, however many read it', () => {
    const half = mono(width, height, (x) => (x < width / 2 ? Number.NaN : 1));
    const recipe = recipeOf(
      [
        { id: 'A', from: { stack: 'A' } },
        { id: 'B', from: { stack: 'B' } },
        { id: 'M', from: { average: ['A', 'B'] } },
      ],
      {
        layers: [
          { of: { strand: 'M' } },
          { of: { strand: 'M' }, steps: [{ do: 'blur', radius: 9 }], blend: 'add', opacity: 0.3 },
          { of: { formula: 'M * 2' }, blend: 'add', opacity: 0.3 },
        ],
      },
    );
    const { tallies } = evaluateRecipe(recipe, { A: half, B: stack }, 'cloth');
    expect([...tallies.values()]).toEqual([{ 'partly-covered': (width * height) / 2 }]);
  });
});

describe('an image of a row longer than a strip', () => {
  it('is the same as in pieces', () => {
    const long = mono(20_011, 3, (x, y) => x * 0.001 + y);
    const recipe = recipeOf([{ id: 'A', from: { stack: 'A' }, steps: [{ do: 'scale', multiply: 2 }] }], {
      layers: [{ of: { strand: 'A' } }, { of: { formula: 'A + 1' }, blend: 'lighten' }],
    });
    const { raster } = evaluateRecipe(recipe, { A: long }, 'cloth');
    raster.planes[0].forEach((v, i) => expect(v).toBeCloseTo(2 * long.planes[0][i] + 1, 3));
  });
});

describe("a node's identity", () => {
  const hashOf = (recipe: Recipe, path: string, stacks: Record<string, TestStack> = { A: stack, B: stack }): string => {
    const graph = graphOf(recipe, stacks);
    return graph.nodes[graph.byPath.get(path) ?? -1].hash;
  };
  const strandWith = (steps: Step[]) => recipeOf([{ id: 'A', from: { stack: 'A' }, steps }]);

  it('follows parameters, figures, domain and what is pinned', () => {
    const plain = strandWith([{ do: 'stretch' }]);
    const others: [Recipe, Record<string, TestStack>][] = [
      [strandWith([{ do: 'stretch', target: 0.2 }]), { A: stack }],
      [{ ...plain, sky: { x: 1, y: 1, width: 20, height: 20 } }, { A: stack }],
      [strandWith([{ do: 'stretch', hold: { black: 0.1 } }]), { A: stack }],
      [strandWith([{ do: 'stretch', opacity: 0.5 }]), { A: stack }],
      [plain, { A: { ...stack, domain: 'stretched' } }],
    ];
    const hashes = [hashOf(plain, 'strands[0]', { A: stack }), ...others.map(([r, s]) => hashOf(r, 'strands[0]', s))];
    expect(new Set(hashes).size).toBe(hashes.length);
    expect(hashOf(plain, 'strands[0]')).toBe(hashes[0]);
  });

  it('is not moved by what lies elsewhere, nor by names', () => {
    const alone = hashOf(strandWith([blur]), 'strands[0]');
    const among = recipeOf([
      { id: 'B', from: { stack: 'B' }, steps: [{ do: 'scale', multiply: 2 }] },
      { id: 'other name', from: { stack: 'A' }, steps: [{ ...blur, name: 'soft' }] },
    ]);
    expect(hashOf(among, 'strands[1]')).toBe(alone);
  });
});

describe('figures by algebra', () => {
  const sky = { width: 200, height: 150, planes: [addNoise(scene(3, 200, 150), 0, 1, 0.001, 4)] };

  it('tone of a fitted, scaled strand follows from that of the stack, whatever the lines', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -4, max: 4, noNaN: true }).filter((b) => Math.abs(b) > 0.05),
        fc.double({ min: -1, max: 1, noNaN: true }),
        fc.constantFrom(1, 0.5),
        (multiply, add, opacity) => {
          const steps: Step[] = [{ do: 'scale', multiply, add, opacity }, { do: 'stretch' }];
          const graph = graphOfBoth(recipeOf([{ id: 'A', from: { stack: 'A' }, steps }]));
          const [tone] = measurementsRequiredBy(graph, graph.byPath.get('strands[0]') ?? -1);
          expect(cheapestPlan(graph, tone.spec).by).toBe('carrying');
          const { figures } = evaluateRecipe(
            recipeOf([{ id: 'A', from: { stack: 'A' }, steps }]),
            { A: sky },
            'strands[0]',
          );
          const b = 1 + opacity * (multiply - 1);
          const scaled = { ...sky, planes: [sky.planes[0].map((v) => opacity * add + b * v)] };
          const direct = evaluateRecipe(
            recipeOf([{ id: 'A', from: { stack: 'A' }, steps: [{ do: 'stretch' }] }]),
            { A: scaled },
            'strands[0]',
          );
          const toneOf = (found: typeof figures) => [...found.values()].at(-1);
          const [a, c] = [toneOf(figures), toneOf(direct.figures)];
          if (a?.kind !== 'tone' || c?.kind !== 'tone') throw new Error('no tone');
          for (const key of ['sky', 'noise', 'low', 'high', 'spread'] as const) {
            expect(Math.abs(a.planes[0][key] - c.planes[0][key])).toBeLessThan(
              2e-4 * (1 + Math.abs(b) + Math.abs(add)),
            );
          }
        },
      ),
      { numRuns: 30 },
    );
  });
});

describe('layers at fault', () => {
  it('that are hidden spoil nothing; nested ids may not stand twice', () => {
    const graph = graphOfBoth(
      recipeOf([{ id: 'A', from: { stack: 'A' } }], {
        layers: [{ of: { strand: 'A' } }, { id: 'bad', of: { strand: 'nowhere' }, visible: false }],
      }),
    );
    expect(graph.cloth).toBeDefined();
    expect(graph.faults.map((error) => error.path)).toEqual(['cloth.layers[1].of.strand']);
    const twice = recipeOf([{ id: 'A', from: { stack: 'A' } }], {
      layers: [
        { id: 'x', of: { strand: 'A' } },
        { id: 'y', of: { layers: [{ id: 'x', of: { strand: 'A' } }] } },
      ],
    });
    expect(() => graphOfBoth(twice)).toThrow(/The id “x” is used twice \(also at cloth/);
  });

  it('that are visible spoil the cloth, and say so once; those above them can still be seen', () => {
    const graph = graphOfBoth(
      recipeOf([{ id: 'A', from: { stack: 'A' } }], {
        layers: [{ of: { strand: 'nowhere' } }, { of: { strand: 'A' } }],
      }),
    );
    expect(graph.cloth).toBeUndefined();
    expect(graph.faults).toHaveLength(1);
    expect(graph.byPath.has('cloth.layers[1]')).toBe(true);
  });

  it('a number beyond its limits is a fault of its step, in one sentence', () => {
    const graph = graphOfBoth(recipeOf([{ id: 'A', from: { stack: 'A' }, steps: [{ do: 'blur', radius: 5000 }] }]));
    expect(graph.faults).toEqual([
      { code: 'recipe-invalid', path: 'strands[0].steps[0].radius', message: 'Must be at most 2000.' },
    ]);
  });
});

describe('windows', () => {
  it('of any size give the pixels of the whole', () => {
    const stacks = {
      A: mono(37, 29, (x, y) => Math.sin(x * 0.7) + y * 0.01),
      B: mono(37, 29, (x, y) => Math.cos(y * 0.3) * x * 0.01),
    };
    const recipe = recipeOf(
      [strand('A', [{ do: 'place', turn: 90, dx: 2 }]), strand('B', [{ do: 'scale', multiply: 2 }])],
      {
        layers: [
          {
            of: { mix: { red: { A: 1, B: 0.5 }, green: { B: 1 }, blue: { A: -1 } }, weights: 'share' },
            steps: [{ do: 'stretch', black: -1, white: 2, strength: 20 }],
          },
        ],
      },
    );
    const whole = evaluateRecipe(recipe, stacks).raster;
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 36 }),
        fc.integer({ min: 0, max: 28 }),
        fc.integer({ min: 1, max: 37 }),
        fc.integer({ min: 1, max: 29 }),
        (x, y, w, h) => {
          const rect = { x, y, width: Math.min(w, 37 - x), height: Math.min(h, 29 - y) };
          const part = evaluateRecipe(recipe, stacks, 'cloth', rect).raster;
          part.planes.forEach((plane, p) =>
            plane.forEach((v, i) =>
              expect(v).toBe(whole.planes[p][(y + Math.floor(i / rect.width)) * 37 + x + (i % rect.width)]),
            ),
          );
        },
      ),
      { numRuns: 25 },
    );
  });

  it('ask only for what they need', () => {
    const graph = graphOf(recipeOf([strand('A', [{ do: 'place', turn: 180 }])]), { A: mono(100, 80, () => 1) });
    const needs = new Evaluator(graph, new Map(), 0).plan(graph.byPath.get('strands[0]') ?? -1, {
      x: 10,
      y: 20,
      width: 5,
      height: 6,
    }).sources;
    expect(needs).toEqual([{ stack: 'A', plane: 0, rect: { x: 85, y: 54, width: 5, height: 6 } }]);
  });
});
