import { z } from 'zod';
import { defineStep } from './step-spec';

/** Parameters and texts of *floor*; what it does to pixels is in the engine. */
export const floor = defineStep({
  do: 'floor',
  name: 'floor',
  summary: 'Sets a minimum brightness (black floor).',
  hints: {
    for: 'The darkest sky is a little brighter than black, and dust stays apart from it.',
    tooMuch: 'Dust and sky melt into one flat tone.',
  },
  group: 'show',
  searchTerms: ['black clip', 'raise blacks', 'pedestal'],
  params: z.strictObject({ level: z.number() }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: () => ({ level: 0.05 }),
});
