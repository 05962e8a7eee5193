import { stepOwnerAt } from '@owl-loom/recipe/walk';
import { Lead } from '../../onboarding/Onboarding';
import { useAppSelector } from '../../store/store';
import { Guarded } from '../../ui/ErrorBoundary';
import { ClothBench } from './ClothBench';
import { LayerBench } from './LayerBench';
import { MaskBench } from './MaskBench';
import { StepBench } from './StepBench';
import { StrandBench } from './StrandBench';
import { stepAt } from '@owl-loom/recipe/paths';

/** The editor of whatever is chosen in the draft. */
export function Bench() {
  const recipe = useAppSelector((state) => state.draft.recipe);
  const chosen = useAppSelector((state) => state.draft.selectedPath);
  if (!recipe) return null;
  const step = stepAt(recipe, chosen);
  const owner = stepOwnerAt(recipe, chosen);
  return (
    // Another place begins at its own head, however far the last one was scrolled.
    <aside key={chosen} aria-label="Bench" className="size-full overflow-y-auto bg-board" data-testid="bench">
      {/* In the flow of the bench, so that no word to a newcomer lies on what it is about. */}
      <Lead step="knots">
        Each diamond in the draft below is the weight of a filter in a colour. Drag it up or down.
      </Lead>
      <Lead step="beads">
        Click a step in the draft: the picture shows the result up to it, and its settings appear here. “Cloth” at the
        right is the finished picture.
      </Lead>
      <Lead step="write">
        Happy with it? Press C to save a swatch, or export files above. Every step can be undone with Ctrl+Z.
      </Lead>
      <Guarded
        says="These settings cannot be shown because of an error in Owl Loom. The recipe is not affected: choose another step, or undo."
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
