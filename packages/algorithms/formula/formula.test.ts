import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { buildGraph } from '@owl-loom/engine/build/graph-builder';
import { tallyWarnings } from '@owl-loom/engine/measurement-plan';
import { UserError } from '@owl-loom/base/errors';
import { addNoise, scene } from '@owl-loom/testing/random';
import { infoOf, recipeOf, type TestStack, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { compileFormula } from './compile';
import { namesRead } from './names';

const known = new Map<string, 1 | 3>([
  ['Ha', 1],
  ['R', 1],
  ['O III', 1],
  ['RGB', 3],
]);
const pixels = { Ha: [0.5], R: [0.25], 'O III': [0.125], RGB: [0.1, 0.2, 0.4] } as const;
const numbers = { sky: [0.01], noise: [0.002], median: [0.03], mean: [0.04] } as const;

/** What a formula gives for one pixel of each strand. */
function value(text: string): number[] {
  const program = compileFormula(text, known);
  const wholes = program.imageStatistics.map(({ key, strand }) =>
    known.get(strand) === 3 ? [1, 2, 3].map((k) => k * numbers[key][0]) : numbers[key],
  );
  const out = Array.from({ length: program.planes }, () => new Float32Array(1));
  program.runner(wholes)(
    program.strands.map((name) => pixels[name as keyof typeof pixels].map((v) => Float32Array.of(v))),
    out,
  );
  return out.map((plane) => plane[0]);
}
const one = (text: string): number => value(text)[0];

function fault(text: string): string {
  try {
    compileFormula(text, known);
  } catch (thrown) {
    if (thrown instanceof UserError) return thrown.message;
    throw thrown;
  }
  throw new Error('it was taken');
}

describe('formulas', () => {
  it.each([
    ['1 + 2 * 3', 7],
    ['2 ^ 3 ^ 2', 512],
    ['-2 ^ 2', -4],
    ['2 ^ -1', 0.5],
    ['- - 3', 3],
    ['10 - 4 - 3', 3],
    ['16 / 4 / 2', 2],
    ['1 < 2', 1],
    ['2 <= 1', 0],
    ['1 == 1 && 2 != 2', 0],
    ['1 == 2 || 3 > 2', 1],
    ['!0 + !5', 1],
    ['0 ? 1 : 2 > 1 ? 3 : 4', 3],
    ['1.5e-1 + .5', 0.65],
    ['min(3, 1, 2) + max(1, 4)', 5],
    ['clamp(7, 0, 2) + clamp(-7, 0, 2)', 2],
    ['mix(2, 4, 0.25)', 2.5],
    ['step(0.5, 0.5) + step(0.5, 0.4)', 1],
    ['smoothstep(0, 2, 1)', 0.5],
    ['screen(0.5, 0.5)', 0.75],
    ['pow(2, 10)', 1024],
    ['exp(log(5))', 5],
    ['asinh(0) + abs(-3)', 3],
    ['Ha - 0.2 * (R - sky(R))', 0.5 - 0.2 * (0.25 - 0.01)],
    ['"O III" + Ha # the oxygen', 0.625],
    ['RGB.green', 0.2],
    ['luminance(RGB)', 0.2126 * 0.1 + 0.7152 * 0.2 + 0.0722 * 0.4],
    ['noise(Ha) + median(R) + mean(R)', 0.072],
    ['sky(RGB.blue)', 0.03],
    ['x = Ha * 2\ny = x +\n  R; x * y', 1.25],
    ['(1 +\n\n 2)', 3],
  ])('%s is what paper says', (text, expected) => expect(one(text)).toBeCloseTo(expected, 6));

  it('give a colour where one goes in, and where red, green and blue are set', () => {
    expect(value('RGB * 2 + Ha').map((v) => Number(v.toFixed(5)))).toEqual([0.7, 0.9, 1.3]);
    expect(value('red = mix(RGB.red, Ha, 0.5)\ngreen = 0.5\nblue = RGB.blue').map((v) => Number(v.toFixed(5)))).toEqual(
      [0.3, 0.5, 0.4],
    );
    expect(value('blue = R; red = blue; green = red * 2').map((v) => Number(v.toFixed(5)))).toEqual([0.25, 0.5, 0.25]);
  });

  it.each([
    ['Ha +', /line 1, column 5: the formula ends where a number, a name or "\(" was expected/],
    ['x = 1\nHa Ha', /line 2, column 4: "Ha" stands where an operator or the end of the line was expected/],
    ['(1', /where "\)" was expected/],
    ['1)', /no "\(" is open/],
    ['Ha @ R', /line 1, column 4: "@" has no meaning here/],
    ['constructor', /there is no strand or variable constructor; there are Ha, R, "O III", RGB/],
    ['__proto__ + 1', /there is no strand or variable __proto__; there are Ha/],
    ['RGB.constructor', /column 5: unknown channel “constructor”/],
    ['toString(Ha)', /there is no function toString/],
    ['Ha.red', /Ha is mono and has no red channel/],
    ['sky(Ha + R)', /sky\(S\) needs a strand name, such as sky\(/],
    ['x = Ha; sky(x)', /sky\(S\) needs a strand name, such as sky\(/],
    ['min(Ha)', /takes at least 2 values, and 1 is given/],
    ['sqrt(Ha, R)', /takes 1 value, and 2 are given/],
    ['sqrt', /sqrt is a function/],
    ['', /the formula is empty/],
    ['x = 1', /ends in a value, or sets red, green and blue/],
    ['red = Ha; green = R', /blue is missing/],
    ['red = Ha; green = R; blue = RGB', /name one of its planes/],
    ['Ha\nR', /line 1, column 1: only the last line may be a value by itself/],
    ['red = 1; green = 1; blue = 1; Ha', /take one of the two out/],
    [`${'('.repeat(10_000)}1${')'.repeat(10_000)}`, /at most 5000 words/],
    [`${'('.repeat(2000)}1${')'.repeat(2000)}`, /nested more than 100 deep/],
  ])('%s is refused with the place and what was expected', (text, message) => {
    expect(fault(text)).toMatch(message);
    expect(fault(text).length).toBeLessThan(300);
  });

  it('never break the reader, whatever stands in them', () => {
    const words = fc.constantFrom(
      'Ha',
      'R',
      'RGB',
      '.',
      'red',
      '(',
      ')',
      '+',
      '-',
      '^',
      '*',
      '/',
      '=',
      '==',
      '!',
      '&&',
      '?',
      ':',
      ',',
      '\n',
      ';',
      '3',
      '.5',
      'sky',
      'min',
      '#',
      '"',
      ' ',
      '%',
    );
    fc.assert(
      fc.property(fc.array(words, { maxLength: 30 }), (list) => {
        try {
          compileFormula(list.join(' '), known);
        } catch (thrown) {
          expect(thrown).toBeInstanceOf(UserError);
          expect((thrown as UserError).message).toMatch(/^line \d+, column \d+: /);
        }
      }),
      { numRuns: 600 },
    );
  });

  it('compute what JavaScript computes for the same tree', () => {
    type Tree = { text: string; of: (a: number, b: number) => number };
    const leaf = fc.oneof(
      fc.constant<Tree>({ text: 'Ha', of: (a) => a }),
      fc.constant<Tree>({ text: 'R', of: (_, b) => b }),
      fc.double({ min: 0.01, max: 4, noNaN: true }).map(
        (v): Tree => ({
          text: String(v).includes('e') ? '1' : String(v),
          of: () => (String(v).includes('e') ? 1 : v),
        }),
      ),
    );
    const { tree } = fc.letrec<{ tree: Tree }>((tie) => ({
      tree: fc.oneof(
        { depthSize: 'small' },
        leaf,
        fc.tuple(tie('tree'), fc.constantFrom('+', '-', '*', '<'), tie('tree')).map(
          ([l, op, r]): Tree => ({
            text: `(${l.text} ${op} ${r.text})`,
            of: (a, b) =>
              ({
                '+': l.of(a, b) + r.of(a, b),
                '-': l.of(a, b) - r.of(a, b),
                '*': l.of(a, b) * r.of(a, b),
                '<': Number(l.of(a, b) < r.of(a, b)),
              })[op] ?? 0,
          }),
        ),
        fc.tuple(tie('tree'), tie('tree'), tie('tree')).map(
          ([t, y, n]): Tree => ({
            text: `(${t.text} > 1 ? ${y.text} : ${n.text})`,
            of: (a, b) => (t.of(a, b) > 1 ? y.of(a, b) : n.of(a, b)),
          }),
        ),
        tie('tree').map((t): Tree => ({ text: `abs(-${t.text})`, of: (a, b) => Math.abs(t.of(a, b)) })),
      ),
    }));
    fc.assert(
      fc.property(tree, ({ text, of }) => {
        const expected = Math.fround(of(0.5, 0.25));
        fc.pre(Number.isFinite(expected));
        expect(one(text)).toBe(expected);
      }),
    );
  });

  it('name the strands that they read', () => {
    expect(namesRead('x = Ha + 1\ny = x * R\nHa + y + sky(G)')).toEqual(['Ha', 'R', 'G']);
  });
});

describe('formula strands', () => {
  const one = (v: number): TestStack => ({ width: 1, height: 1, planes: [Float32Array.of(v)] });
  const run = (formula: string, stacks: Record<string, TestStack>, steps?: { do: string }[]) =>
    evaluateRecipe(
      recipeOf([
        ...Object.keys(stacks).map((id) => ({ id, from: { stack: id } })),
        { id: 'F', from: { formula }, steps },
      ]),
      stacks,
      `strands[${Object.keys(stacks).length}]`,
    );

  it('keep no data, and put a counted 0 where there is no answer', () => {
    expect(run('A + B', { A: one(Number.NaN), B: one(1) }).raster.planes[0][0]).toBeNaN();
    expect(run('A > 0 ? B : 1', { A: one(Number.NaN), B: one(1) }).raster.planes[0][0]).toBeNaN();
    const { raster, graph, tallies } = run('sqrt(A) + B / (A - A)', { A: one(-1), B: one(1) });
    expect(raster.planes[0][0]).toBe(0);
    expect(tallyWarnings(graph, tallies)).toEqual([
      { path: 'strands[2].from', message: expect.stringMatching(/undefined in 100\.0 % of the picture/) },
    ]);
  });

  it('measure skies of whole strands, not of the strip', () => {
    const image = addNoise(scene(3, 160, 120), 0, 1, 0.0005, 4);
    const { raster, measured } = run('A - sky(A)', { A: { width: 160, height: 120, planes: [image] } });
    const sky = (measured['strands[1].from'] as Record<string, number>)['sky(A)'];
    expect(Math.abs(sky - 0.02)).toBeLessThan(0.0008);
    raster.planes[0].forEach((v, i) => expect(v).toBeCloseTo(image[i] - sky, 6));
  });

  it('read strands whose names need quotes, and constants alone', () => {
    expect(run('"A b" * 2', { 'A b': one(0.25) }).raster.planes[0][0]).toBe(0.5);
    expect(run('0.25', { A: one(1) }).raster.planes[0][0]).toBe(0.25);
  });

  it('that go round in a loop or name no strand are faults with their path; the rest stays', () => {
    const recipe = recipeOf([
      { id: 'A', from: { stack: 'A' } },
      { id: 'X', from: { formula: 'Y + 1' } },
      { id: 'Y', from: { formula: 'Z' } },
      { id: 'Z', from: { formula: 'A + X' } },
      { id: 'W', from: { formula: 'A + nowhere' } },
    ]);
    const graph = buildGraph(recipe, new Map([['A', infoOf('A', one(1))]]));
    expect(graph.faults.map((f) => f.path)).toEqual(
      expect.arrayContaining(['strands[3].from.formula', 'strands[4].from.formula']),
    );
    expect(graph.faults[0].message).toMatch(/X → Y → Z → X/);
    expect([...graph.strands.keys()]).toEqual(['A']);
  });

  it('take a strand of one brightness with another like every image does', () => {
    const scene1 = addNoise(scene(5, 200, 150), 0, 1, 0.0004, 6);
    const { measured } = run('A * 0.5 + 0.1', { A: { width: 200, height: 150, planes: [scene1] } }, [
      { do: 'linear-fit', to: 'A' } as { do: string },
    ]);
    const { a, b } = measured['strands[1].steps[0]'] as { a: number; b: number };
    expect(b).toBeCloseTo(2, 3);
    expect(a).toBeCloseTo(-0.2, 3);
  });
});
