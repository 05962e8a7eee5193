import { colourOpsKernel } from '../colour-fusion';
import { implementStep } from './step-implementation';
import { actsOn } from './above';
import { saturation as spec } from '@owl-loom/recipe/steps/saturation';

/** OKLCh chroma times `1 + amount·w`; `w` falls to `shadows` in the dark. */
export const saturationStep = implementStep(spec, {
  version: 1,
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
