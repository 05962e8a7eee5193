import { z } from 'zod';
import { gaussian, gaussianMargin } from '../scales/gaussian';
import { stepKind } from './kind';
import { neighbourhood } from './neighbourhood';

/** Smooths by a Gaussian whose σ is `radius` full-size pixels. */
export const blur = stepKind({
  do: 'blur',
  version: 1,
  params: z.strictObject({ radius: z.number().nonnegative().max(2000) }),
  takes: { planes: 'either', domain: 'either' },
  gives: { domain: 'same' },
  build: (p, { input }) => ({
    kernel: neighbourhood(
      input.extent,
      (level) => gaussianMargin(p.radius / 2 ** level),
      (_, level) => (plane, rect, window) => gaussian(plane, rect, p.radius / 2 ** level, window),
    ),
    figures: [],
    planes: input.planes,
    extent: input.extent,
  }),
});
