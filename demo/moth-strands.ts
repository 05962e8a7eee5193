import type { Strand } from '@owl-loom/recipe/schema';

/** A quiet corner of the Lantern Moth: no gas, few stars. */
export const MOTH_SKY = { x: 1500, y: 1040, width: 180, height: 120 } as const;

/** The lines with an even sky, at one brightness. */
export const LINES: readonly Strand[] = [
  { id: 'Ha', from: { stack: 'Ha' }, steps: [{ do: 'gradient' }] },
  { id: 'OIII', from: { stack: 'OIII' }, steps: [{ do: 'gradient' }, { do: 'linear-fit', to: 'Ha' }] },
  { id: 'SII', from: { stack: 'SII' }, steps: [{ do: 'gradient' }, { do: 'linear-fit', to: 'Ha', high: 0.9 }] },
];

/** Daylight, balanced on the stars; those that were cut off have their tops, and with them their colour. */
export const DAYLIGHT: readonly Strand[] = [
  { id: 'R', from: { stack: 'R' }, steps: [{ do: 'gradient' }, { do: 'star-tops' }] },
  { id: 'G', from: { stack: 'G' }, steps: [{ do: 'gradient' }, { do: 'star-tops' }] },
  { id: 'B', from: { stack: 'B' }, steps: [{ do: 'gradient' }, { do: 'star-tops' }] },
  {
    id: 'RGB',
    from: { mix: { red: { R: 1 }, green: { G: 1 }, blue: { B: 1 } }, weights: 'as-is' },
    steps: [{ do: 'calibrate' }, { do: 'level-sky' }],
  },
];
