import { z } from 'zod';
import { defineStep } from './step-spec';

/** Parameters and texts of *cap*; what it does to pixels is in the engine. */
export const cap = defineStep({
  do: 'cap',
  name: 'cap',
  summary: 'Lets green, or magenta, be no more than the other colours allow.',
  hints: {
    for: 'Green specks and green sky go; teal gas stays teal.',
    tooMuch: 'Oxygen turns blue or magenta: ease the strength, or allow the greater of the two.',
  },
  group: 'colour',
  searchTerms: [
    'green cast',
    'remove green',
    'green noise',
    'magenta cast',
    'neutralise',
    'less green',
    'take green out',
    'reduce magenta',
    'less magenta',
  ],
  params: z.strictObject({
    colour: z.enum(['green', 'magenta']),
    against: z.enum(['mean', 'greater']).default('mean'),
    strength: z.number().min(0).max(1).default(1),
  }),
  accepts: { planes: 'colour', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: () => ({ colour: 'green' as const }),
});
