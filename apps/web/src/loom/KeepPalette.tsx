import { useForm } from 'react-hook-form';
import { toast } from 'sonner';
import { useKeepPaletteMutation } from '../store/api';
import type { TargetCard } from '../store/rows';
import { showError } from '../store/show-error';
import { store } from '../store/store';
import { Button } from '../ui/controls';
import { Dialog } from '../ui/Dialog';
import { NAME, TextField } from '../ui/TextField';

/** Keeps the recipe as a palette for every target that has its filters. */
export function KeepPalette({ target, onClose }: { target: TargetCard; onClose: () => void }) {
  const { recipe } = store.getState().draft;
  const [keep, { isLoading }] = useKeepPaletteMutation();
  const { register, handleSubmit, formState } = useForm({ defaultValues: { name: recipe?.name ?? '', says: '' } });
  const submit = handleSubmit(async ({ name, says }) => {
    if (!recipe) return;
    const result = await keep({ target: target.id, name, says, recipe });
    showError(result);
    if (result.error) return;
    toast.success(`${name} is kept; it lies in Swatches, for every target that has its filters.`);
    onClose();
  });
  return (
    <Dialog open onOpenChange={(open) => !open && onClose()} title="Keep as a palette">
      <form
        onSubmit={(event) => void submit(event)}
        className="space-y-3"
        onKeyDown={(event) => event.stopPropagation()}
      >
        <TextField label="name" {...register('name', NAME)} trouble={formState.errors.name && 'Give it a name.'} />
        <TextField label="what it does, in a few words" {...register('says', { maxLength: 500 })} />
        <p className="text-[12.5px] text-hush">
          It goes by filters. What belongs to this one picture is left out: crops, alignments, mended places, painted
          strokes, boxes, pinned figures.
        </p>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Not now</Button>
          <Button look="lamp" type="submit" disabled={isLoading}>
            Keep it
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
