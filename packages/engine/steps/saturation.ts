import { z } from 'zod';
import { colourOpsKernel } from '../colour-fusion';
import { defineStep } from './step-kind';
import { above, actsOn } from './above';

/** OKLCh chroma times `1 + amount·w`; `w` falls to `shadows` in the dark. */
export const saturation = defineStep({
  do: 'saturation',
  name: 'saturation',
  summary: 'Makes all colours stronger or weaker, and can leave dark sky alone.',
  hints: {
    for: 'Gas gains colour, and dark sky stays quiet.',
    tooMuch: 'Red and blue specks in the sky, and gas of one flat colour.',
  },
  group: 'colour',
  searchTerms: ['vibrance', 'chroma', 'colourfulness', 'desaturate', 'grey'],
  version: 1,
  params: z.strictObject({
    amount: z.number().min(-1).max(1).default(0),
    shadows: z.number().min(0).max(1).default(1),
    above: above.optional(),
  }),
  accepts: { planes: 'colour', domain: 'stretched' },
  produces: { domain: 'same' },
  initialParams: () => ({ amount: 0.2, shadows: 0.3, above: 'auto' as const }),
  build: ({ above: from, ...enriching }, place) => {
    const acts = actsOn(from, 0, place);
    return {
      kernel: colourOpsKernel((figures) => [{ enriching, on: acts.range(figures) }], acts.describe),
      figures: acts.figures,
      planes: 3,
      extent: place.input.extent,
    };
  },
});
