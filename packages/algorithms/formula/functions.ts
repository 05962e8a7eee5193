import { smoothstep } from '@owl-loom/image/math/smoothstep';

/** Counts pixels where an operation had no answer and 0 was put in its place. */
export interface DomainErrors {
  count: number;
}

/** Up to three numbers in; those that a function does not take are 0. */
export type ScalarFunction = (x: number, y: number, z: number, errors: DomainErrors) => number;

/** A function of the formula language, pixel by pixel. */
export interface FormulaFunction {
  readonly least: number;
  readonly most: number;
  /** How it is written, for the list and for errors. */
  readonly form: string;
  /** What it gives, in a few words. */
  readonly says: string;
  /** Where more values than two are given to one that takes any number, they are folded in pairs. */
  readonly of: ScalarFunction;
}

/** 0, counted, where a result is not finite although what went in was. */
function kept(value: number, errors: DomainErrors): number {
  if (Number.isFinite(value)) return value;
  errors.count++;
  return 0;
}

export const divide = (a: number, b: number, errors: DomainErrors): number => kept(a / b, errors);
export const power = (a: number, b: number, errors: DomainErrors): number => kept(a ** b, errors);

/** Every pixelwise function, by name. NaN never reaches them: where an input is no data, so is the result. */
export const FUNCTIONS: ReadonlyMap<string, FormulaFunction> = new Map<string, FormulaFunction>([
  ['min', { least: 2, most: 16, form: 'min(a, b, …)', says: 'the smallest', of: (a, b) => (a < b ? a : b) }],
  ['max', { least: 2, most: 16, form: 'max(a, b, …)', says: 'the greatest', of: (a, b) => (a > b ? a : b) }],
  ['abs', { least: 1, most: 1, form: 'abs(x)', says: 'without its sign', of: (x) => Math.abs(x) }],
  [
    'sqrt',
    { least: 1, most: 1, form: 'sqrt(x)', says: 'square root', of: (x, _y, _z, errors) => kept(Math.sqrt(x), errors) },
  ],
  [
    'exp',
    { least: 1, most: 1, form: 'exp(x)', says: 'e to the x', of: (x, _y, _z, errors) => kept(Math.exp(x), errors) },
  ],
  [
    'log',
    {
      least: 1,
      most: 1,
      form: 'log(x)',
      says: 'natural logarithm',
      of: (x, _y, _z, errors) => kept(Math.log(x), errors),
    },
  ],
  ['pow', { least: 2, most: 2, form: 'pow(x, y)', says: 'x to the y', of: (x, y, _z, errors) => power(x, y, errors) }],
  [
    'clamp',
    {
      least: 3,
      most: 3,
      form: 'clamp(x, low, high)',
      says: 'x held between low and high',
      of: (x, low, high) => Math.min(high, Math.max(low, x)),
    },
  ],
  [
    'mix',
    { least: 3, most: 3, form: 'mix(a, b, t)', says: 'a at t = 0, b at t = 1', of: (a, b, t) => a + (b - a) * t },
  ],
  [
    'step',
    {
      least: 2,
      most: 2,
      form: 'step(edge, x)',
      says: '0 below the edge, 1 from it on',
      of: (edge, x) => (x < edge ? 0 : 1),
    },
  ],
  [
    'smoothstep',
    {
      least: 3,
      most: 3,
      form: 'smoothstep(low, high, x)',
      says: '0 to 1 in a smooth rise',
      of: (low, high, x, errors) => smoothstep(divide(x - low, high - low, errors)),
    },
  ],
  ['asinh', { least: 1, most: 1, form: 'asinh(x)', says: 'inverse hyperbolic sine', of: (x) => Math.asinh(x) }],
  [
    'screen',
    { least: 2, most: 2, form: 'screen(a, b)', says: '1 − (1 − a)(1 − b)', of: (a, b) => 1 - (1 - a) * (1 - b) },
  ],
]);

/** Functions of a whole strand, measured once. */
export const IMAGE_FUNCTIONS: ReadonlyMap<
  string,
  {
    readonly figure: 'tone' | 'middle';
    readonly key: 'sky' | 'noise' | 'median' | 'mean';
    readonly form: string;
    readonly says: string;
  }
> = new Map([
  ['sky', { figure: 'tone', key: 'sky', form: 'sky(S)', says: 'the sky level of a strand' }],
  ['noise', { figure: 'tone', key: 'noise', form: 'noise(S)', says: 'the sky noise of a strand' }],
  ['median', { figure: 'middle', key: 'median', form: 'median(S)', says: 'the median of a strand' }],
  ['mean', { figure: 'middle', key: 'mean', form: 'mean(S)', says: 'the mean of a strand' }],
]);

export const PLANES = ['red', 'green', 'blue'] as const;
