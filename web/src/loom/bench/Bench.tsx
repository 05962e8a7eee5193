import type { Step } from '../../../../core/recipe/schema';
import { stepPlace, valueAt } from '../../store/paths';
import { useApp } from '../../store/store';
import { ClothBench } from './ClothBench';
import { LayerBench } from './LayerBench';
import { StepBench } from './StepBench';
import { StrandBench } from './StrandBench';

/** The editor of whatever is chosen in the draft. */
export function Bench() {
  const recipe = useApp((state) => state.draft.recipe);
  const chosen = useApp((state) => state.draft.chosen);
  if (!recipe) return null;
  const step = stepPlace(chosen) ? (valueAt(recipe, chosen) as Step | undefined) : undefined;
  const strand = /^strands\[(\d+)\](?:\.from)?$/.exec(chosen);
  const layer = /^cloth\.layers\[(\d+)\](?:\.of)?$/.exec(chosen);
  return (
    <aside aria-label="Bench" className="size-full overflow-y-auto bg-board" data-testid="bench">
      {step && <StepBench key={chosen} path={chosen} step={step} recipe={recipe} />}
      {!step && strand && recipe.strands[Number(strand[1])] && (
        <StrandBench key={chosen} index={Number(strand[1])} recipe={recipe} />
      )}
      {!step && layer && recipe.cloth?.layers[Number(layer[1])] && (
        <LayerBench key={chosen} index={Number(layer[1])} recipe={recipe} />
      )}
      {!step && !strand && !layer && <ClothBench recipe={recipe} />}
    </aside>
  );
}
