import { z } from 'zod';
import { defineStep } from './step-kind';
import { growMargin, morphDisc } from '#algorithms/mask/morphology';
import { neighbourhoodKernel } from './neighbourhood';

/** The greatest value within a disc of full-size pixels; with a negative radius the least. */
export const grow = defineStep({
  do: 'grow',
  name: 'grow',
  summary: 'Widens what is bright; below nought it narrows it.',
  hints: {
    for: 'The mask reaches as far past the bright parts as you want it to.',
    tooMuch: 'What you meant to spare comes under the mask.',
  },
  group: 'mask',
  searchTerms: ['dilate', 'erode', 'expand', 'shrink', 'widen'],
  version: 1,
  params: z.strictObject({ radius: z.number().min(-500).max(500) }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: () => ({ radius: 3 }),
  build: (p, { input }) => {
    const at = (level: number) => p.radius / 2 ** level;
    return {
      kernel: neighbourhoodKernel(
        input.extent,
        (level) => growMargin(at(level)),
        (_, level) => (plane, rect, window) => morphDisc(plane, rect, at(level), window),
      ),
      figures: [],
      planes: input.planes,
      extent: input.extent,
    };
  },
});
