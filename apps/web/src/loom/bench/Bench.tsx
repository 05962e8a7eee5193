import type { Step } from '#recipe/schema';
import { stepOwnerAt } from '#recipe/walk';
import { Lead } from '../../onboarding/Onboarding';
import { stepLocation, valueAt } from '#recipe/paths';
import { useAppSelector } from '../../store/store';
import { Guarded } from '../../ui/ErrorBoundary';
import { ClothBench } from './ClothBench';
import { LayerBench } from './LayerBench';
import { MaskBench } from './MaskBench';
import { StepBench } from './StepBench';
import { StrandBench } from './StrandBench';

/** The editor of whatever is chosen in the draft. */
export function Bench() {
  const recipe = useAppSelector((state) => state.draft.recipe);
  const chosen = useAppSelector((state) => state.draft.selectedPath);
  if (!recipe) return null;
  const step = stepLocation(chosen) ? (valueAt(recipe, chosen) as Step | undefined) : undefined;
  const owner = stepOwnerAt(recipe, chosen);
  return (
    // Another place begins at its own head, however far the last one was scrolled.
    <aside key={chosen} aria-label="Bench" className="size-full overflow-y-auto bg-board" data-testid="bench">
      {/* In the flow of the bench, so that no word to a newcomer lies on what it is about. */}
      <Lead step="knots">
        Each knot in the drawing below says how much of a filter goes into a colour. Drag one up or down, and the
        picture follows.
      </Lead>
      <Lead step="beads">
        Touch a bead in the drawing below: the picture shows the state there, and its numbers lie here. The last one on
        the right is the finished cloth.
      </Lead>
      <Lead step="write">
        As you like it? C keeps it as a swatch to come back to, and Write file above writes files. Nothing is ever lost
        by trying: Ctrl Z goes back without end.
      </Lead>
      <Guarded
        says="The settings of this cannot be shown: something in Owl Loom went wrong. The recipe is as it was; choose another step, or undo."
        resetOn={[chosen, recipe]}
      >
        {step && <StepBench path={chosen} step={step} recipe={recipe} />}
        {!step && owner?.kind === 'strand' && <StrandBench owner={owner} recipe={recipe} />}
        {!step && owner?.kind === 'layer' && <LayerBench owner={owner} recipe={recipe} />}
        {!step && owner?.kind === 'mask' && <MaskBench owner={owner} recipe={recipe} />}
        {!step && (!owner || owner.kind === 'cloth') && <ClothBench recipe={recipe} />}
      </Guarded>
    </aside>
  );
}
