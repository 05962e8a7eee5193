import { z } from 'zod';
import { rectangle } from '../schema-primitives';
import { defineStep } from './step-spec';
import { reportNumber, reportNumbers } from './report-numbers';

/** A fit of one plane. */
const fit = z.object({
  method: z.enum(['pixels', 'levels']),
  a: reportNumber,
  b: reportNumber,
  aError: reportNumber,
  bError: reportNumber,
  correlation: reportNumber,
  scatter: reportNumber,
  used: reportNumber,
  rejected: reportNumber,
});
const numbers = z.union([reportNumber, reportNumbers]);
const pinned = z.object({ method: z.literal('held'), a: numbers, b: numbers });

/** Parameters and texts of *linear fit*; what it does to pixels is in the engine. */
export const linearFitStep = defineStep({
  do: 'linear-fit',
  name: 'linear fit',
  summary: 'Matches the brightness of another strand (offset and scale).',
  hints: {
    for: 'The points follow the line; both skies look alike.',
    tooMuch: 'Nebula present in one image only biases the fit: set a region.',
  },
  group: 'sky',
  searchTerms: ['match brightness', 'normalise', 'equalise', 'balance filters'],
  params: z.strictObject({
    to: z.string(),
    method: z.enum(['auto', 'pixels', 'levels']).default('auto'),
    region: rectangle.optional(),
    low: z.number().optional(),
    high: z.number().optional(),
  }),
  labels: { to: 'reference', low: 'ignore below', high: 'ignore above' },
  reports: z.union([fit, z.array(fit).readonly(), pinned]),
  accepts: { planes: 'either', domain: 'linear' },
  produces: { domain: 'same' },
  pinnable: ['a', 'b'],
  initialParams: ({ others }) => ({ to: others[0] ?? '' }),
  strandsRead: (p) => [p.to],
});
