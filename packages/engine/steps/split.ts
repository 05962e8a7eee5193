import { z } from 'zod';
import { defineStep } from './step-kind';
import { gaussianKernel } from './neighbourhood';

/** Parts an image into what is finer than `radius` and what is coarser; fine is `0.5 + (x − coarse)/2`, which linear-light over coarse undoes. */
export const split = defineStep({
  do: 'split',
  name: 'split',
  summary: 'Keeps what is finer, or coarser, than a size.',
  hints: {
    for: 'The coarse half holds glow and no stars; the fine half all detail.',
    tooMuch: 'A small radius leaves half of the stars in the coarse part.',
  },
  group: 'detail',
  searchTerms: ['high pass', 'low pass', 'frequency separation', 'fine detail'],
  version: 2,
  params: z.strictObject({ radius: z.number().positive().max(2000).default(20), keep: z.enum(['fine', 'coarse']) }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: () => ({ keep: 'fine' as const }),
  build: (p, { input }) => ({
    kernel: gaussianKernel(
      input.extent,
      () => p.radius,
      p.keep === 'coarse' ? undefined : (coarse, own) => coarse.map((c, i) => 0.5 + (own[i] - c) / 2),
    ),
    figures: [],
    planes: input.planes,
    extent: input.extent,
  }),
});
