import { z } from 'zod';
import { listed } from '../limits';
import { triple } from '../schema-primitives';
import { above } from './above';
import { defineStep } from './step-spec';

/** One family of hues and what is done to it; angles in degrees of OKLCh, `shift` in the numbers as they are. */
export const hueBand = z.strictObject({
  centre: z.number(),
  width: z.number().nonnegative(),
  soft: z.number().nonnegative(),
  turn: z.number().default(0),
  chroma: z.number().nonnegative().default(1),
  lightness: z.number().default(0),
  shift: triple.default([0, 0, 0]),
  /** Left out for a look; it keeps its numbers. */
  off: z.boolean().optional(),
});

/** Parameters and texts of *hues*; what it does to pixels is in the engine. */
export const hueBands = defineStep({
  do: 'hue-bands',
  name: 'hues',
  summary: 'Changes hue, chroma and lightness of chosen hue ranges.',
  hints: {
    for: 'Only the intended hues change: press “Show affected pixels”.',
    tooMuch: 'Wide ranges include neighbouring hues; dust and stars change colour.',
  },
  group: 'colour',
  searchTerms: [
    'families of hues',
    'hue bands',
    'selective colour',
    'colour shift',
    'green to gold',
    'purple stars',
    'magenta',
  ],
  params: z.strictObject({ bands: listed(hueBand), above: above.optional() }),
  labels: { bands: 'hue ranges' },
  accepts: { planes: 'colour', domain: 'stretched' },
  produces: { domain: 'same' },
  initialParams: () => ({ bands: [], above: 'auto' as const }),
});
