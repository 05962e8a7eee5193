import type { Recipe, Step } from '@owl-loom/recipe/schema';
import { Button } from '../../ui/controls';
import { addForAll } from '../../document/edit';
import { strandsWithoutStep } from '../../document/add-step-to-all';

/** Gives the step to all other strands from stacks that lack one; not there where none does. */
export function ForAll({ verb, step, recipe }: { verb: string; step: Step; recipe: Recipe }) {
  const others = strandsWithoutStep(recipe, step);
  if (others === 0 || !step.to) return null;
  return (
    <Button small onClick={() => addForAll(step)}>
      {verb} {others === 1 ? 'the other strand' : `the ${others} other strands`} to {String(step.to)} too
    </Button>
  );
}
