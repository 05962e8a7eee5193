import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { toast } from 'sonner';
import { UserError } from '#base/errors';
import { extractPattern } from '#recipe/patterns/pattern';
import type { Pattern } from '#recipe/patterns/schema';
import { type StepOwner, stepOwnerAt } from '#recipe/walk';
import type { Recipe } from '#recipe/schema';
import { useKeepPatternMutation } from '../../store/api';
import { store } from '../../store/store';
import { showError } from '../../store/show-error';
import { Button, Choice } from '../../ui/controls';
import { Dialog } from '../../ui/Dialog';
import { NAME, TextField } from '../../ui/TextField';
import { ownerName } from '#recipe/names';
import { useStacks } from '../stacks-context';

/** What of a recipe can be kept, by what is chosen. */
function kindsFor(recipe: Recipe, owner: StepOwner | undefined): { value: Pattern['kind']; label: string }[] {
  return [
    ...(owner?.kind === 'mask' ? [{ value: 'mask' as const, label: 'the mask' }] : []),
    ...(owner && owner.steps.length > 0
      ? [{ value: 'steps' as const, label: `steps of ${ownerName(recipe, owner)}` }]
      : []),
    ...(recipe.cloth?.layers.length ? [{ value: 'layers' as const, label: 'all layers' }] : []),
  ];
}

/** Keeps a piece of the recipe, to be threaded onto others. */
export function KeepPattern({ onClose }: { onClose: () => void }) {
  const { recipe, selectedPath: chosen } = store.getState().draft;
  const stacks = useStacks();
  const owner = recipe ? stepOwnerAt(recipe, chosen) : undefined;
  const kinds = recipe ? kindsFor(recipe, owner) : [];
  const [kind, setKind] = useState(kinds[0]?.value);
  const [keep, { isLoading }] = useKeepPatternMutation();
  const { register, handleSubmit, formState } = useForm({ defaultValues: { name: '', says: '' } });
  const submit = handleSubmit(async ({ name, says }) => {
    if (!recipe || !owner || !kind) return;
    try {
      const body = extractPattern(recipe, kind, owner.path, (name) => stacks.find((row) => row.name === name)?.filter);
      const result = await keep({ name, says, body });
      showError(result);
      if (result.error) return;
    } catch (fault) {
      if (!(fault instanceof UserError)) throw fault;
      toast.error(fault.message);
      return;
    }
    toast.success(`${name} is kept; thread it onto any recipe from the list of recipes.`);
    onClose();
  });
  return (
    <Dialog open onOpenChange={(open) => !open && onClose()} title="Keep a pattern">
      <form
        onSubmit={(event) => void submit(event)}
        className="space-y-3"
        onKeyDown={(event) => event.stopPropagation()}
      >
        <TextField label="name" {...register('name', NAME)} trouble={formState.errors.name && 'Give it a name.'} />
        {kind && kinds.length > 1 && <Choice label="of" value={kind} options={kinds} onChange={setKind} />}
        <TextField label="what it is for, in a few words" {...register('says', { maxLength: 500 })} />
        <p className="text-[12.5px] text-hush">
          It goes by filters: whatever strands it reads become parts that another target’s strands play. Pinned figures
          are let go.
        </p>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Not now</Button>
          <Button look="lamp" type="submit" disabled={isLoading || !kind}>
            Keep it
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
