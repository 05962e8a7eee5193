/** Operations that the kernels know, by their number in packages/image/kernels/simd/formula; of what a name does, `run` and `functions` tell. */
export const OPS = {
  '+': 0,
  '-': 1,
  '*': 2,
  '/': 3,
  '<': 4,
  '<=': 5,
  '>': 6,
  '>=': 7,
  '==': 8,
  '!=': 9,
  '&&': 10,
  '||': 11,
  min: 12,
  max: 13,
  abs: 14,
  sqrt: 15,
  clamp: 16,
  mix: 17,
  step: 18,
  smoothstep: 19,
  screen: 20,
  negate: 21,
  not: 22,
  choice: 23,
} as const;

/** The number of an operation; undefined for one that only plain arithmetic knows. */
export const opOf = (name: string): number | undefined => (OPS as Readonly<Record<string, number | undefined>>)[name];
