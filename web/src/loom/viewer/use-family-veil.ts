import { useMemo } from 'react';
import { COLOURED } from '../../../../core/colour/hue-share';
import type { HueBand } from '../../../../core/steps/hue-bands';
import type { Step } from '../../../../core/recipe/schema';
import type { Display } from '../../../workers/protocol';
import { stepPlace, valueAt } from '../../../../core/recipe/paths';
import { useApp } from '../../store/store';
import { type Acts, chromaRange } from '../bench/AboveField';
import { inputPath } from '../bench/inputs';
import { useDescribed } from '../session';

/** The veil over what the chosen family of hues does not hold of the image that comes in; nothing where none is to be seen. */
export function useFamilyVeil(): Display['veil'] {
  const { recipe, chosen } = useApp((state) => state.draft);
  const { familyVeiled, piece } = useApp((state) => state.view);
  const measured = useDescribed()?.measured[chosen];
  return useMemo(() => {
    if (!familyVeiled || !recipe || !stepPlace(chosen)) return undefined;
    const step = valueAt(recipe, chosen) as Step | undefined;
    const bands = step?.do === 'hue-bands' ? (step.bands as readonly HueBand[]) : [];
    const band = bands[Math.min(piece ?? 0, bands.length - 1)];
    if (!band) return undefined;
    const { centre, width, soft } = band;
    const { grey, full } = chromaRange((step as Acts | undefined)?.above, COLOURED, measured);
    return { path: inputPath(recipe, chosen), as: 'veil', family: { centre, width, soft, chroma: full, grey } };
  }, [familyVeiled, recipe, chosen, piece, measured]);
}
