import { useMemo } from 'react';
import { FULL_CHROMA } from '@owl-loom/algorithms/colour/hue-membership';
import type { HueBand } from '@owl-loom/engine/steps/hue-bands';
import type { DisplayOptions } from '../../../worker/protocol';
import { stepLocation, stepAt } from '@owl-loom/recipe/paths';
import { useAppSelector } from '../../store/store';
import { type Acts, chromaRange } from '../fields/AboveField';
import { stepInputPath } from '../../document/state-paths';
import { useReport } from '../../session/session';

/** The veil over what the chosen family of hues does not hold of the image that comes in; nothing where none is to be seen. */
export function useFamilyVeil(): DisplayOptions['veil'] {
  const { recipe, selectedPath: chosen } = useAppSelector((state) => state.draft);
  const { familyVeiled, selectedShape: piece } = useAppSelector((state) => state.view);
  const measured = useReport()?.measured[chosen];
  return useMemo(() => {
    if (!familyVeiled || !recipe || !stepLocation(chosen)) return undefined;
    const step = stepAt(recipe, chosen);
    const bands = step?.do === 'hue-bands' ? (step.bands as readonly HueBand[]) : [];
    const band = bands[Math.min(piece ?? 0, bands.length - 1)];
    if (!band) return undefined;
    const { centre, width, soft } = band;
    const { grey, full } = chromaRange((step as Acts | undefined)?.above, FULL_CHROMA, measured);
    return { path: stepInputPath(recipe, chosen), as: 'veil', family: { centre, width, soft, chroma: full, grey } };
  }, [familyVeiled, recipe, chosen, piece, measured]);
}
