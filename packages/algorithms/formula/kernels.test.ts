import fc from 'fast-check';
import { expect, it } from 'vitest';
import { compileFormula } from './compile';
import { wasmKernels } from '@owl-loom/image/kernels/wasm';

const known = new Map<string, 1 | 3>([
  ['A', 1],
  ['B', 1],
  ['C', 3],
]);

const leaf = fc.constantFrom('A', 'B', 'C', 'C.red', '0', '0.5', '-2', '3e-3', 'sky(A)');
const { expression } = fc.letrec<{ expression: string }>((tie) => {
  const e = tie('expression');
  const binary = fc.constantFrom('+', '-', '*', '/', '<', '<=', '>', '>=', '==', '!=', '&&', '||', '^');
  const calls = fc.constantFrom<[string, number][]>(
    ['min', 2],
    ['min', 3],
    ['max', 5],
    ['abs', 1],
    ['sqrt', 1],
    ['exp', 1],
    ['clamp', 3],
    ['mix', 3],
    ['step', 2],
    ['smoothstep', 3],
    ['screen', 2],
    ['asinh', 1],
    ['luminance', 1],
  );
  return {
    expression: fc.oneof(
      { maxDepth: 5, withCrossShrink: true },
      leaf,
      fc.tuple(e, binary, e).map(([l, op, r]) => `(${l} ${op} ${r})`),
      fc.tuple(fc.constantFrom('-', '!'), e).map(([op, of]) => `(${op}(${of}))`),
      fc.tuple(e, e, e).map(([test, yes, no]) => `((${test}) ? (${yes}) : (${no}))`),
      calls.chain(([name, n]) =>
        fc.array(e, { minLength: n, maxLength: n }).map((args) => `${name}(${args.join(', ')})`),
      ),
    ),
  };
});

const values = (seed: number, n: number, shift: number) =>
  Float32Array.from({ length: n }, (_, i) => {
    const k = (i * 37 + seed * 11 + shift) % 23;
    return k === 0 ? Number.NaN : k === 1 ? 0 : k === 2 ? -1 : Math.sin(i * 0.7 + seed + shift) * 2;
  });

function run(text: string, n: number, seed: number, plain: boolean) {
  const program = compileFormula(text, known);
  const planes = { A: 1, B: 1, C: 3 } as Readonly<Record<string, number>>;
  const inputs = program.strands.map((name) =>
    Array.from({ length: planes[name] }, (_, p) => values(seed, n, 5 * p + name.charCodeAt(0))),
  );
  const out = Array.from({ length: program.planes }, () => new Float32Array(n));
  const go = program.runner(
    program.imageStatistics.map(() => [0.25]),
    plain ? null : wasmKernels(),
  );
  return { out: out.map((plane) => plane), faults: go(inputs, out) };
}

it('a formula is the same by the kernels and in plain arithmetic, to the last digit, faults and all', () => {
  fc.assert(
    fc.property(expression, fc.constantFrom(1, 2, 7, 1023, 1024, 2051), fc.nat(99), (text, n, seed) => {
      expect(run(text, n, seed, false)).toEqual(run(text, n, seed, true));
    }),
    { numRuns: 400 },
  );
});

it('a formula of more values than the kernels have room for goes on in plain arithmetic', () => {
  const long = Array.from({ length: 150 }, (_, k) => `A * ${k} + B`).join(' + ');
  expect(run(long, 1500, 3, false)).toEqual(run(long, 1500, 3, true));
});

it('the smallest of three values is the smallest wherever it stands', () => {
  const one = (text: string) => run(`A - A + ${text}`, 8, 0, false).out[0][5];
  expect([one('min(3, 2, 1)'), one('min(1, 3, 2)'), one('max(1, 2, 3)'), one('max(3, 1, 2)')]).toEqual([1, 1, 3, 3]);
});
