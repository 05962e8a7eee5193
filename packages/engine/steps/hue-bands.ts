import { z } from 'zod';
import { listed } from '#recipe/limits';
import { FULL_CHROMA } from '#algorithms/colour/hue-membership';
import { colourOpsKernel } from '../colour-fusion';
import { triple } from '#recipe/schema-primitives';
import { defineStep } from './step-kind';
import { above, actsOn } from './above';

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

export type HueBand = z.output<typeof hueBand>;

/** Turns, dulls, enriches, lifts or pushes families of hues, one band after the other; greys stay. */
export const hueBands = defineStep({
  do: 'hue-bands',
  name: 'hues',
  summary: 'Turns, enriches or calms one family of hues and leaves the others.',
  hints: {
    for: 'Only what you meant changes: look at what the family holds.',
    tooMuch: 'Broad families take neighbours along; dust and stars change colour.',
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
  version: 1,
  params: z.strictObject({ bands: listed(hueBand), above: above.optional() }),
  accepts: { planes: 'colour', domain: 'stretched' },
  produces: { domain: 'same' },
  initialParams: () => ({ bands: [], above: 'auto' as const }),
  build: ({ bands, above: from }, place) => {
    const acts = actsOn(from, FULL_CHROMA, place);
    const on = bands.filter(({ off }) => !off);
    return {
      kernel: colourOpsKernel((figures) => on.map((band) => ({ band, on: acts.range(figures) })), acts.describe),
      figures: acts.figures,
      planes: 3,
      extent: place.input.extent,
    };
  },
});
