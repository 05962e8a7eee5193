import { LUMINANCE } from '../colour/luminance';
import type { BinaryOp } from './ast';
import { divide, type ScalarFunction, power } from './functions';
import { OPS, opOf } from './ops';
import type { Lane, Strip } from './strip';

export type Value = readonly Lane[];

type Code = (strip: Strip) => Value;

/** A piece of the formula made ready, with how many planes it gives; a plain number counts as one. */
export interface CompiledExpression {
  readonly planes: 1 | 3;
  readonly code: Code;
}

const number = (value: number): Lane => ({ data: Float64Array.of(value), stride: 0 });

export const constant = (value: number): Value => [number(value)];

export const laneOf = (value: Value, p: number): Lane => value[value.length === 1 ? 0 : p];

const NOTHING = number(0);

/** One operation over a strip, by the kernels where they know it. No data in is no data out. */
function operate(strip: Strip, of: ScalarFunction, op: number | undefined, lanes: readonly Lane[]): Lane {
  const [a, b = NOTHING, c = NOTHING] = lanes;
  if (lanes.every(({ stride }) => stride === 0)) {
    const out = number(0);
    apply(of, a, b, c, strip, out.data, 1);
    return out;
  }
  const out = strip.take();
  const { wasm } = strip;
  const [x, y, z] = wasm && op !== undefined ? [a, b, c].map((lane) => strip.address(lane)) : [];
  if (wasm && op !== undefined && x && y && z && out.at !== undefined)
    strip.faults.count += wasm.run.formula(op, x[0], x[1], y[0], y[1], z[0], z[1], strip.n, out.at);
  else apply(of, a, b, c, strip, out.data, strip.n);
  return out;
}

function apply(
  of: ScalarFunction,
  { data: a, stride: s }: Lane,
  { data: b, stride: t }: Lane,
  { data: c, stride: u }: Lane,
  { faults }: Strip,
  out: Float64Array,
  n: number,
): void {
  for (let i = 0; i < n; i++) {
    const x = a[i * s];
    const y = b[i * t];
    const z = c[i * u];
    out[i] = x !== x || y !== y || z !== z ? Number.NaN : of(x, y, z, faults);
  }
}

const PLAIN: Record<BinaryOp, ScalarFunction> = {
  '+': (x, y) => x + y,
  '-': (x, y) => x - y,
  '*': (x, y) => x * y,
  '/': (x, y, _, errors) => divide(x, y, errors),
  '^': (x, y, _, errors) => power(x, y, errors),
  '<': (x, y) => (x < y ? 1 : 0),
  '<=': (x, y) => (x <= y ? 1 : 0),
  '>': (x, y) => (x > y ? 1 : 0),
  '>=': (x, y) => (x >= y ? 1 : 0),
  '==': (x, y) => (x === y ? 1 : 0),
  '!=': (x, y) => (x !== y ? 1 : 0),
  '&&': (x, y) => (x !== 0 && y !== 0 ? 1 : 0),
  '||': (x, y) => (x !== 0 || y !== 0 ? 1 : 0),
};

/** A function of up to three values, pixel by pixel and plane by plane. */
export function spread(
  pieces: readonly CompiledExpression[],
  of: ScalarFunction,
  op: number | undefined,
): CompiledExpression {
  const planes = pieces.some((piece) => piece.planes === 3) ? 3 : 1;
  return {
    planes,
    code: (strip) => {
      const values = pieces.map((piece) => piece.code(strip));
      return Array.from({ length: planes }, (_, p) => {
        const lanes = values.map((value) => laneOf(value, p));
        return operate(strip, of, op, lanes);
      });
    },
  };
}

/** Comparisons and logic give 1 or 0. */
export const binary = (op: BinaryOp, left: CompiledExpression, right: CompiledExpression): CompiledExpression =>
  spread([left, right], PLAIN[op], opOf(op));

export const unary = (op: '-' | '!', of: CompiledExpression): CompiledExpression =>
  op === '-' ? spread([of], (x) => -x, OPS.negate) : spread([of], (x) => (x === 0 ? 1 : 0), OPS.not);

export const choice = (test: CompiledExpression, yes: CompiledExpression, no: CompiledExpression): CompiledExpression =>
  spread([test, yes, no], (x, y, z) => (x !== 0 ? y : z), OPS.choice);

export const luminanceExpression = (c: CompiledExpression): CompiledExpression => ({
  planes: 1,
  code: (strip) => {
    const value = c.code(strip);
    const [r, g, b] = LUMINANCE.map((weight, p) =>
      operate(strip, PLAIN['*'], OPS['*'], [number(weight), laneOf(value, p)]),
    );
    const sum = operate(strip, PLAIN['+'], OPS['+'], [r, g]);
    return [operate(strip, PLAIN['+'], OPS['+'], [sum, b])];
  },
});

/** A value that is computed once a strip, however often its name is used. */
export function memoisePerStrip(piece: CompiledExpression): CompiledExpression & { forget: () => void } {
  let held: Value | undefined;
  return {
    planes: piece.planes,
    code: (strip) => {
      held ??= piece.code(strip);
      return held;
    },
    forget: () => {
      held = undefined;
    },
  };
}
