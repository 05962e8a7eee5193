import { z } from 'zod';
import { colour, colourNumbers } from '../recipe/parts';
import { stepKind } from './kind';

/** A mono image times a colour's three sRGB-coded numbers; no gamma is applied. */
export const tint = stepKind({
  do: 'tint',
  version: 1,
  params: z.strictObject({ colour }),
  takes: { planes: 'mono', domain: 'either' },
  gives: { domain: 'same' },
  build: (p, { input }) => {
    const weights = colourNumbers(p.colour);
    return {
      kernel: {
        bind: () => (inputs, out) => {
          const from = inputs[0].planes[0];
          for (let c = 0; c < 3; c++) {
            const to = out.planes[c];
            for (let i = 0; i < to.length; i++) to[i] = from[i] * weights[c];
          }
        },
      },
      figures: [],
      planes: 3,
      extent: input.extent,
    };
  },
});
