import { z } from 'zod';
import { stepKind } from '../engine/step-kind';
import { softened } from './neighbourhood';

/** Smooths by a Gaussian whose σ is `radius` full-size pixels. */
export const blur = stepKind({
  do: 'blur',
  name: 'blur',
  says: 'Softens by a Gaussian.',
  watch: {
    for: 'Only what is smaller than the radius goes soft.',
    tooMuch: 'Stars swell into discs and small gas drowns.',
  },
  group: 'detail',
  words: ['gaussian', 'soften', 'smooth'],
  version: 2,
  params: z.strictObject({ radius: z.number().nonnegative().max(2000) }),
  takes: { planes: 'either', domain: 'either' },
  gives: { domain: 'same' },
  begins: () => ({ radius: 2 }),
  build: (p, { input }) => ({
    kernel: softened(input.extent, () => p.radius),
    figures: [],
    planes: input.planes,
    extent: input.extent,
  }),
});
