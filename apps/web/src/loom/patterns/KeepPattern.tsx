import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { toast } from 'sonner';
import { UserError } from '@owl-loom/base/errors';
import { extractPattern } from '@owl-loom/recipe/patterns/pattern';
import type { Pattern } from '@owl-loom/recipe/patterns/schema';
import { type StepOwner, stepOwnerAt } from '@owl-loom/recipe/walk';
import type { Recipe } from '@owl-loom/recipe/schema';
import { useSavePatternMutation } from '../../store/api';
import { store } from '../../store/store';
import { showError } from '../../store/show-error';
import { Button, Choice } from '../../ui/controls';
import { Dialog } from '../../ui/Dialog';
import { NAME, TextField } from '../../ui/TextField';
import { ownerName } from '@owl-loom/recipe/names';
import { useStacks } from '../../session/stacks-context';

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
  const [keep, { isLoading }] = useSavePatternMutation();
  const { register, handleSubmit, formState } = useForm({ defaultValues: { name: '', says: '' } });
  const submit = handleSubmit(async ({ name, says }) => {
    if (!recipe || !owner || !kind) return;
    try {
      const body = extractPattern(recipe, kind, owner.path, (name) => stacks.find((row) => row.name === name)?.filter);
      const result = await keep({ name, says, body });
      showError(result);
      if (result.error) return;
    } catch (error) {
      if (!(error instanceof UserError)) throw error;
      toast.error(error.message);
      return;
    }
    toast.success(`Pattern ${name} saved. Apply it from the recipe menu.`);
    onClose();
  });
  return (
    <Dialog open onOpenChange={(open) => !open && onClose()} title="Save as pattern">
      <form
        onSubmit={(event) => void submit(event)}
        className="space-y-3"
        onKeyDown={(event) => event.stopPropagation()}
      >
        <TextField label="name" {...register('name', NAME)} trouble={formState.errors.name && 'Give it a name.'} />
        {kind && kinds.length > 1 && <Choice label="of" value={kind} options={kinds} onChange={setKind} />}
        <TextField label="Description" {...register('says', { maxLength: 500 })} />
        <p className="text-[12.5px] text-hush">
          Strands are matched by filter on other targets. Pinned measurements are left out.
        </p>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button look="lamp" type="submit" disabled={isLoading || !kind}>
            Save
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
