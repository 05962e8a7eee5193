import { useMemo } from 'react';
import { COLOURED } from '../../../../core/colour/hue-share';
import type { HueBand } from '../../../../core/steps/hue-bands';
import type { Step } from '../../../../core/recipe/schema';
import type { Display } from '../../../workers/protocol';
import { stepPlace, valueAt } from '../../../../core/recipe/paths';
import { useApp } from '../../store/store';
import { inputPath } from '../bench/inputs';

/** The veil over what the chosen family of hues does not hold of the image that comes in; nothing where none is to be seen. */
export function useFamilyVeil(): Display['veil'] {
  const { recipe, chosen } = useApp((state) => state.draft);
  const { familyVeiled, piece } = useApp((state) => state.view);
  return useMemo(() => {
    if (!familyVeiled || !recipe || !stepPlace(chosen)) return undefined;
    const step = valueAt(recipe, chosen) as Step | undefined;
    const bands = step?.do === 'hue-bands' ? (step.bands as readonly HueBand[]) : [];
    const band = bands[Math.min(piece ?? 0, bands.length - 1)];
    if (!band) return undefined;
    const { centre, width, soft } = band;
    return { path: inputPath(recipe, chosen), as: 'veil', family: { centre, width, soft, chroma: COLOURED } };
  }, [familyVeiled, recipe, chosen, piece]);
}
