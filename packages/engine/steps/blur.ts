import { z } from 'zod';
import { defineStep } from './step-kind';
import { gaussianKernel } from './neighbourhood';

/** Smooths by a Gaussian whose σ is `radius` full-size pixels. */
export const blur = defineStep({
  do: 'blur',
  name: 'blur',
  summary: 'Softens by a Gaussian.',
  hints: {
    for: 'Only what is smaller than the radius goes soft.',
    tooMuch: 'Stars swell into discs and small gas drowns.',
  },
  group: 'detail',
  searchTerms: ['gaussian', 'soften', 'smooth'],
  version: 2,
  params: z.strictObject({ radius: z.number().nonnegative().max(2000) }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: () => ({ radius: 2 }),
  build: (p, { input }) => ({
    kernel: gaussianKernel(input.extent, () => p.radius),
    figures: [],
    planes: input.planes,
    extent: input.extent,
  }),
});
