import { stepOwnerAt, strandsReadBySource } from '@owl-loom/recipe/walk';
import { useAppSelector } from '../store/store';
import { addStep } from '../document/edit';
import { useSession } from './session';
import { useStrandColours } from './strands';

/** Puts a new step at the end of a list; a tint begins in the colour of the strand that it is for. */
export function useAddStep(): (list: string) => (kind: string) => void {
  const recipe = useAppSelector((state) => state.draft.recipe);
  const colourOf = useStrandColours(recipe);
  const { scene } = useSession();
  return (list) => (kind) => {
    const owner = recipe && stepOwnerAt(recipe, list);
    const read = owner?.source ? strandsReadBySource(owner.source) : [];
    const id = owner?.kind === 'strand' ? owner.id : read.length === 1 ? read[0] : undefined;
    const colour = id === undefined ? '' : colourOf(id);
    addStep(kind, list, { frame: scene?.frame, colour: colour.startsWith('#') ? colour : undefined });
  };
}
