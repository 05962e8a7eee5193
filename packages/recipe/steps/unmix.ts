import type { Triple } from '@owl-loom/base/triple';
import { z } from 'zod';
import { triple } from '../schema-primitives';
import { defineStep } from './step-spec';
import { reportNumbers } from './report-numbers';

/** What red, green and blue pixels of a colour camera commonly see of the two lines that a dual-band filter passes. */
const HYDROGEN: Triple = [1, 0.1, 0.03];

const OXYGEN: Triple = [0.05, 1, 0.75];

/** Parameters and texts of *unmix*; what it does to pixels is in the engine. */
export const unmix = defineStep({
  do: 'unmix',
  name: 'unmix',
  summary: 'Separates the two emission lines of a dual-band filter (colour camera).',
  hints: {
    for: 'Each line is dark where only the other emits.',
    tooMuch: 'Holes where the other line is bright: its response is set too high.',
  },
  group: 'lines',
  searchTerms: ['dual band', 'duo band', 'one-shot colour', 'osc', 'extract'],
  params: z.strictObject({
    first: triple.default([...HYDROGEN]),
    second: triple.default([...OXYGEN]),
    third: triple.optional(),
  }),
  reports: z.object({ sky: reportNumbers, /** Rows of the inverse of the response. */ rows: z.array(reportNumbers) }),
  accepts: { planes: 'colour', domain: 'linear' },
  produces: { domain: 'same' },
});
