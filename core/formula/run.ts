import type { BinaryOp } from './ast';
import { LUMINANCE } from '../colour/luminance';
import { divide, type Faults, type Pure, power } from './functions';

/** One plane of a value while a strip is computed: numbers for every pixel, or one for all (stride 0). */
export interface Lane {
  readonly data: Float64Array;
  readonly stride: 0 | 1;
}

export type Value = readonly Lane[];

/** What a strip is computed with. */
export class Strip {
  private readonly pool: Float64Array[] = [];
  private next = 0;
  readonly faults: Faults = { count: 0 };
  n = 0;
  inputs: readonly (readonly Float32Array[])[] = [];

  constructor(readonly numbers: readonly (readonly number[])[]) {}

  begin(n: number, inputs: readonly (readonly Float32Array[])[]): void {
    this.next = 0;
    this.n = n;
    this.inputs = inputs;
    this.faults.count = 0;
  }

  /** A buffer for one plane of the strip; the same ones come again for the next strip. */
  take(): Float64Array {
    const known = this.pool[this.next];
    if (known && known.length >= this.n) {
      this.next++;
      return known;
    }
    const made = new Float64Array(this.n);
    this.pool[this.next++] = made;
    return made;
  }
}

type Code = (strip: Strip) => Value;

/** A piece of the formula made ready, with how many planes it gives; a plain number counts as one. */
export interface Piece {
  readonly planes: 1 | 3;
  readonly code: Code;
}

export const constant = (value: number): Value => [{ data: Float64Array.of(value), stride: 0 }];

export const laneOf = (value: Value, p: number): Lane => value[value.length === 1 ? 0 : p];

/** Runs one operation over a strip. Comparisons and logic give 1 or 0; NaN in gives NaN out. */
export function operate(op: BinaryOp, strip: Strip, left: Lane, right: Lane): Lane {
  const { data: a, stride: s } = left;
  const { data: b, stride: t } = right;
  const { faults } = strip;
  const stride = s === 0 && t === 0 ? 0 : 1;
  const n = stride === 0 ? 1 : strip.n;
  const out = strip.take();
  switch (op) {
    case '+':
      for (let i = 0; i < n; i++) out[i] = a[i * s] + b[i * t];
      break;
    case '-':
      for (let i = 0; i < n; i++) out[i] = a[i * s] - b[i * t];
      break;
    case '*':
      for (let i = 0; i < n; i++) out[i] = a[i * s] * b[i * t];
      break;
    default: {
      const plain = PLAIN[op];
      for (let i = 0; i < n; i++) {
        const x = a[i * s];
        const y = b[i * t];
        out[i] = x !== x || y !== y ? Number.NaN : plain(x, y, faults);
      }
    }
  }
  return { data: out, stride };
}

const PLAIN: Record<Exclude<BinaryOp, '+' | '-' | '*'>, (x: number, y: number, faults: Faults) => number> = {
  '/': divide,
  '^': power,
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
export function spread(pieces: readonly Piece[], of: Pure): Piece {
  const planes = pieces.some((piece) => piece.planes === 3) ? 3 : 1;
  return {
    planes,
    code: (strip) => {
      const values = pieces.map((piece) => piece.code(strip));
      return Array.from({ length: planes }, (_, p): Lane => {
        const lanes = values.map((value) => laneOf(value, p));
        const stride = lanes.every((lane) => lane.stride === 0) ? 0 : 1;
        const out = strip.take();
        apply(of, lanes[0], lanes[1] ?? NOTHING, lanes[2] ?? NOTHING, strip.faults, out, stride === 0 ? 1 : strip.n);
        return { data: out, stride };
      });
    },
  };
}

const NOTHING: Lane = { data: Float64Array.of(0), stride: 0 };

function apply(
  of: Pure,
  { data: a, stride: s }: Lane,
  { data: b, stride: t }: Lane,
  { data: c, stride: u }: Lane,
  faults: Faults,
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

export const weighed = (c: Piece): Piece => ({
  planes: 1,
  code: (strip) => {
    const value = c.code(strip);
    const out = strip.take();
    const [r, g, b] = [0, 1, 2].map((p) => laneOf(value, p));
    for (let i = 0; i < strip.n; i++)
      out[i] =
        LUMINANCE[0] * r.data[i * r.stride] + LUMINANCE[1] * g.data[i * g.stride] + LUMINANCE[2] * b.data[i * b.stride];
    return [{ data: out, stride: 1 }];
  },
});

/** A value that is computed once a strip, however often its name is used. */
export function once(piece: Piece): Piece & { forget: () => void } {
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
