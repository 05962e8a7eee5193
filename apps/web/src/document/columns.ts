/** A column of a tie-up. */
export type ColumnName = 'red' | 'green' | 'blue' | 'luminance';

/** The columns of a tie-up, in their order. */
export const COLUMNS: readonly { readonly name: ColumnName; readonly short: string; readonly colour: string }[] = [
  { name: 'red', short: 'R', colour: 'var(--color-red)' },
  { name: 'green', short: 'G', colour: 'var(--color-green)' },
  { name: 'blue', short: 'B', colour: 'var(--color-blue)' },
  { name: 'luminance', short: 'L', colour: 'var(--color-text)' },
];
