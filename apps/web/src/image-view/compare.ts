/** How two pictures are held against each other. */
export type Compare = 'off' | 'wipe' | 'side' | 'blink' | 'difference' | 'drift';

/** Every way, in the order in which one key goes through them. */
export const COMPARES: readonly { readonly value: Compare; readonly label: string }[] = [
  { value: 'off', label: 'off' },
  { value: 'wipe', label: 'wipe' },
  { value: 'side', label: 'side by side' },
  { value: 'blink', label: 'blink' },
  { value: 'difference', label: 'difference' },
  { value: 'drift', label: 'drift' },
];

/** The way after this one. */
export const nextCompare = (now: Compare): Compare =>
  COMPARES[(COMPARES.findIndex(({ value }) => value === now) + 1) % COMPARES.length].value;
