import { type WasmKernels, wasmKernels } from '@owl-loom/image/kernels/wasm';
import { many } from '@owl-loom/base/join-words';
import type { Expression, Place, Statement } from './ast';
import { FUNCTIONS, PLANES, IMAGE_FUNCTIONS } from './functions';
import { errorAt, parseFormula } from './parse';
import { opOf } from './ops';
import {
  binary,
  choice,
  constant,
  laneOf,
  memoisePerStrip,
  type CompiledExpression,
  spread,
  unary,
  luminanceExpression,
} from './run';
import { PIXELS, Strip } from './strip';

/** A measured number that a formula asks for. */
export interface ImageStatistic {
  readonly figure: 'tone' | 'middle';
  readonly key: 'sky' | 'noise' | 'median' | 'mean';
  readonly strand: string;
}

/** A formula made ready to run over strips of pixels. */
export interface Program {
  /** Strands whose pixels are read, in the order of the inputs. */
  readonly strands: readonly string[];
  /** Measured numbers, in the order in which `runner` takes them: one number a plane. */
  readonly imageStatistics: readonly ImageStatistic[];
  readonly planes: 1 | 3;
  /**
   * @param wasm the kernels; those of this machine where nothing is said, `null` for plain arithmetic, the reference
   * @returns a function that fills `out` from inputs of the same length and gives the number of pixels without an answer
   */
  runner(
    numbers: readonly (readonly number[])[],
    wasm?: WasmKernels | null,
  ): (inputs: readonly (readonly Float32Array[])[], out: readonly Float32Array[]) => number;
}

/** Turns expressions into code while it takes down which strands and numbers they need. */
class Compiler {
  readonly strands: string[] = [];
  readonly imageStatistics: ImageStatistic[] = [];
  readonly locals = new Map<string, CompiledExpression>();

  constructor(private readonly known: ReadonlyMap<string, 1 | 3>) {}

  piece(e: Expression): CompiledExpression {
    switch (e.kind) {
      case 'number': {
        const value = constant(e.value);
        return { planes: 1, code: () => value };
      }
      case 'name':
        return this.named(e);
      case 'unary':
        return unary(e.op, this.piece(e.of));
      case 'binary':
        return binary(e.op, this.piece(e.left), this.piece(e.right));
      case 'choice':
        return choice(this.piece(e.test), this.piece(e.yes), this.piece(e.no));
      case 'call':
        return this.call(e);
    }
  }

  private call(e: Extract<Expression, { kind: 'call' }>): CompiledExpression {
    const whole = IMAGE_FUNCTIONS.get(e.name);
    if (whole) return this.whole(e, whole);
    if (e.name === 'luminance') {
      if (e.args.length !== 1) throw errorAt(e.place, `luminance(C) takes one value, and ${e.args.length} are given.`);
      return luminanceExpression(this.piece(e.args[0]));
    }
    const found = FUNCTIONS.get(e.name);
    if (!found)
      throw errorAt(
        e.place,
        `there is no function ${e.name}; there are ${[...FUNCTIONS.keys(), 'luminance', ...IMAGE_FUNCTIONS.keys()].join(', ')}.`,
      );
    if (e.args.length < found.least || e.args.length > found.most) {
      throw errorAt(
        e.place,
        `${found.form} takes ${found.least === found.most ? '' : 'at least '}${many(found.least, 'value')}, and ${e.args.length} ${e.args.length === 1 ? 'is' : 'are'} given.`,
      );
    }
    const args = e.args.map((arg) => this.piece(arg));
    const op = opOf(e.name);
    // Those that take any number of values are made of pairs.
    return found.most > 3
      ? args.reduce((folded, arg) => spread([folded, arg], found.of, op))
      : spread(args, found.of, op);
  }

  private whole(
    e: Extract<Expression, { kind: 'call' }>,
    { figure, key, form }: { figure: 'tone' | 'middle'; key: ImageStatistic['key']; form: string },
  ): CompiledExpression {
    const [of] = e.args;
    if (e.args.length !== 1 || of.kind !== 'name' || this.locals.has(of.name) || !this.known.has(of.name)) {
      throw errorAt(
        e.place,
        `${form} needs a strand name, such as ${form.replace('S', [...this.known.keys()][0] ?? 'Ha')}.`,
      );
    }
    const planes = this.known.get(of.name) ?? 1;
    const plane = this.planeOf(of, planes);
    const known = this.imageStatistics.findIndex((w) => w.strand === of.name && w.key === key);
    const index = known >= 0 ? known : this.imageStatistics.push({ figure, key, strand: of.name }) - 1;
    return {
      planes: plane === undefined ? planes : 1,
      code: (strip) => {
        const numbers = strip.numbers[index];
        return (plane === undefined ? numbers : [numbers[plane]]).map((v) => ({
          data: Float64Array.of(v),
          stride: 0 as const,
        }));
      },
    };
  }

  private planeOf(e: Extract<Expression, { kind: 'name' }>, planes: 1 | 3): number | undefined {
    if (e.plane === undefined) return undefined;
    const plane = PLANES.indexOf(e.plane as (typeof PLANES)[number]);
    const at: Place = e.planePlace ?? e.place;
    if (plane < 0) throw errorAt(at, `unknown channel “${e.plane}”: use red, green or blue.`);
    if (planes === 1) throw errorAt(at, `${e.name} is mono and has no ${e.plane} channel; remove .${e.plane}.`);
    return plane;
  }

  private named(e: Extract<Expression, { kind: 'name' }>): CompiledExpression {
    const local = this.locals.get(e.name);
    if (local) {
      const plane = this.planeOf(e, local.planes);
      return plane === undefined ? local : { planes: 1, code: (strip) => [local.code(strip)[plane]] };
    }
    const planes = this.known.get(e.name);
    if (planes === undefined) {
      const there = [...this.known.keys()].map((name) =>
        /^[A-Za-z_\u00aa-\ud7ff][A-Za-z0-9_\u00aa-\ud7ff]*$/.test(name) ? name : `"${name}"`,
      );
      const hint =
        FUNCTIONS.has(e.name) || IMAGE_FUNCTIONS.has(e.name) || e.name === 'luminance'
          ? `${e.name} is a function: write ${e.name}( )`
          : `there is no strand or variable ${e.name}`;
      throw errorAt(e.place, `${hint}; there ${there.length === 1 ? 'is' : 'are'} ${there.join(', ') || 'none'}.`);
    }
    const plane = this.planeOf(e, planes);
    const before = this.strands.indexOf(e.name);
    const input = before >= 0 ? before : this.strands.push(e.name) - 1;
    const wanted = plane === undefined ? Array.from({ length: planes }, (_, p) => p) : [plane];
    return {
      planes: plane === undefined ? planes : 1,
      code: (strip) => wanted.map((p) => strip.read(input, p)),
    };
  }
}

/** What the statements come to: one value, or three for red, green and blue. */
function resultOf(statements: readonly Statement[], compiler: Compiler, forgets: (() => void)[]): CompiledExpression[] {
  let last: CompiledExpression | undefined;
  for (const [i, { name, value, place }] of statements.entries()) {
    const made = memoisePerStrip(compiler.piece(value));
    forgets.push(made.forget);
    if (name === undefined) {
      if (i < statements.length - 1)
        throw errorAt(place, 'only the last line may be a value by itself; give this one a name, as in "x = …".');
      last = made;
    } else compiler.locals.set(name, made);
  }
  const end = {
    line: statements[statements.length - 1]?.place.line ?? 1,
    column: statements[statements.length - 1]?.place.column ?? 1,
  };
  const set = PLANES.filter((plane) => compiler.locals.has(plane));
  if (last) {
    if (set.length === 3)
      throw errorAt(
        end,
        'red, green and blue are set already, so the formula must not end in a value as well; take one of the two out.',
      );
    return [last];
  }
  if (set.length === 0) throw errorAt(end, 'a formula ends in a value, or sets red, green and blue.');
  const lacking = PLANES.filter((plane) => !set.includes(plane));
  if (lacking.length > 0)
    throw errorAt(
      end,
      `a colour formula sets red, green and blue, and ${lacking.join(' and ')} ${lacking.length === 1 ? 'is' : 'are'} missing.`,
    );
  return PLANES.map((plane) => {
    const piece = compiler.locals.get(plane);
    if (!piece) throw new Error('a plane is missing');
    if (piece.planes === 3)
      throw errorAt(end, `${plane} is given a colour image; name one of its planes, such as RGB.${plane}.`);
    return piece;
  });
}

/**
 * Checks a formula and makes it ready to run.
 * @param known strands that it may name, with their planes
 * @throws UserError with line, column and what was expected
 */
export function compileFormula(text: string, known: ReadonlyMap<string, 1 | 3>): Program {
  const statements = parseFormula(text);
  if (statements.length === 0)
    throw errorAt(
      { line: 1, column: 1 },
      'the formula is empty; write a value such as "Ha", or set red, green and blue.',
    );
  const compiler = new Compiler(known);
  const forgets: (() => void)[] = [];
  const results = resultOf(statements, compiler, forgets);
  const planes = results.length === 3 ? 3 : results[0].planes;
  return {
    strands: compiler.strands,
    imageStatistics: compiler.imageStatistics,
    planes,
    runner: (numbers, wasm = wasmKernels()) => {
      const strip = new Strip(numbers, wasm ?? undefined);
      return (inputs, out) => {
        const { length } = out[0];
        strip.faults.count = 0;
        for (let from = 0; from < length; from += PIXELS) {
          strip.begin(from, Math.min(PIXELS, length - from), inputs);
          for (const forget of forgets) forget();
          out.forEach((target, p) => {
            const lane = results.length === 3 ? results[p].code(strip)[0] : laneOf(results[0].code(strip), p);
            strip.write(lane, target);
          });
        }
        return strip.faults.count;
      };
    },
  };
}
