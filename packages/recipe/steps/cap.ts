import { z } from 'zod';
import { defineStep } from './step-spec';

/** Parameters and texts of *cap*; what it does to pixels is in the engine. */
export const cap = defineStep({
  do: 'cap',
  name: 'colour limit',
  summary: 'Limits green (or magenta) to what the other channels support.',
  hints: {
    for: 'Green specks and green sky disappear; teal nebula stays teal.',
    tooMuch: 'Oxygen turns blue or magenta: lower the strength, or choose the larger of the two.',
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
  labels: { against: 'limit' },
  accepts: { planes: 'colour', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: () => ({ colour: 'green' as const }),
});
