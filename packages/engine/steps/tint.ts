import { parseHexColour } from '@owl-loom/algorithms/colour/hex';
import { applyLinearMap } from '../linear-kernel';
import { implementStep } from './step-implementation';
import { tint as spec } from '@owl-loom/recipe/steps/tint';

/** A mono image times a colour's three sRGB-coded numbers; no gamma is applied. */
export const tintStep = implementStep(spec, {
  version: 1,
  build: (p, { input }) => {
    const weights = parseHexColour(p.colour);
    return {
      kernel: {
        prepare: () => {
          const times = applyLinearMap({ a: [0], b: weights });
          return (
            [
              {
                rect,
                planes: [mono],
              },
            ],
            out,
            tally,
          ) => times([{ rect, planes: [mono, mono, mono] }], out, tally);
        },
      },
      figures: [],
      planes: 3,
      extent: input.extent,
    };
  },
});
