import { useForm } from 'react-hook-form';
import { toast } from 'sonner';
import { useSavePaletteMutation } from '../store/api';
import type { TargetCard } from '@owl-loom/api/targets';
import { showError } from '../store/show-error';
import { store } from '../store/store';
import { Button } from '../ui/controls';
import { Dialog } from '../ui/Dialog';
import { NAME, TextField } from '../ui/TextField';

/** Keeps the recipe as a palette for every target that has its filters. */
export function KeepPalette({ target, onClose }: { target: TargetCard; onClose: () => void }) {
  const { recipe } = store.getState().draft;
  const [keep, { isLoading }] = useSavePaletteMutation();
  const { register, handleSubmit, formState } = useForm({ defaultValues: { name: recipe?.name ?? '', says: '' } });
  const submit = handleSubmit(async ({ name, says }) => {
    if (!recipe) return;
    const result = await keep({ target: target.id, name, says, recipe });
    showError(result);
    if (result.error) return;
    toast.success(`Palette ${name} saved. Find it in Swatches of every target with its filters.`);
    onClose();
  });
  return (
    <Dialog open onOpenChange={(open) => !open && onClose()} title="Save as palette">
      <form
        onSubmit={(event) => void submit(event)}
        className="space-y-3"
        onKeyDown={(event) => event.stopPropagation()}
      >
        <TextField label="name" {...register('name', NAME)} trouble={formState.errors.name && 'Give it a name.'} />
        <TextField label="Description" {...register('says', { maxLength: 500 })} />
        <p className="text-[12.5px] text-hush">
          Stacks are matched by filter. Left out: crops, alignment, retouching, masks painted by hand, samples, pinned
          measurements.
        </p>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button look="lamp" type="submit" disabled={isLoading}>
            Save
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
