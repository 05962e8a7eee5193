/** Three numbers: those of red, green and blue, or of a place in three dimensions. */
export type Triple = [number, number, number];

/** Three numbers, each made of one of the others. */
export const mapTriple = ([a, b, c]: Readonly<Triple>, of: (value: number, index: number) => number): Triple => [
  of(a, 0),
  of(b, 1),
  of(c, 2),
];

/** Three numbers with one of them another. */
export const withEntry = (triple: Readonly<Triple>, index: number, value: number): Triple =>
  mapTriple(triple, (v, i) => (i === index ? value : v));
