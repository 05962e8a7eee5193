import { z } from 'zod';
import { stepKind } from '../engine/step-kind';
import { growMargin, grown } from '../mask/grow';
import { neighbourhood } from './neighbourhood';

/** The greatest value within a disc of full-size pixels; with a negative radius the least. */
export const grow = stepKind({
  do: 'grow',
  name: 'grow',
  says: 'Widens what is bright; below nought it narrows it.',
  watch: {
    for: 'The mask reaches as far past the bright parts as you want it to.',
    tooMuch: 'What you meant to spare comes under the mask.',
  },
  group: 'mask',
  words: ['dilate', 'erode', 'expand', 'shrink', 'widen'],
  version: 1,
  params: z.strictObject({ radius: z.number().min(-500).max(500) }),
  takes: { planes: 'either', domain: 'either' },
  gives: { domain: 'same' },
  begins: () => ({ radius: 3 }),
  build: (p, { input }) => {
    const at = (level: number) => p.radius / 2 ** level;
    return {
      kernel: neighbourhood(
        input.extent,
        (level) => growMargin(at(level)),
        (_, level) => (plane, rect, window) => grown(plane, rect, at(level), window),
      ),
      figures: [],
      planes: input.planes,
      extent: input.extent,
    };
  },
});
