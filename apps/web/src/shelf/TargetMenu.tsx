import { Ellipsis } from 'lucide-react';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { useRenameTargetMutation } from '../store/api';
import { moveToTrash } from '../store/trash-actions';
import type { TargetCard } from '@owl-loom/api/targets';
import { showError } from '../store/show-error';
import { Button } from '../ui/controls';
import { Dialog } from '../ui/Dialog';
import { PackTarget } from '../health/PackTarget';
import { Menu } from '../ui/Menu';

function Rename({ target, onClose }: { target: TargetCard; onClose: () => void }) {
  const [rename] = useRenameTargetMutation();
  const { register, handleSubmit } = useForm({ defaultValues: { name: target.name } });
  const submit = handleSubmit(async ({ name }) => {
    const result = await rename({ id: target.id, name });
    showError(result);
    if (!result.error) onClose();
  });
  return (
    <Dialog open onOpenChange={(open) => !open && onClose()} title="Rename">
      <form onSubmit={(event) => void submit(event)} className="flex gap-2">
        <input
          aria-label="Name"
          autoComplete="off"
          {...register('name', { required: true, maxLength: 200 })}
          className="h-8 grow rounded-md border border-edge bg-pit px-3 focus:border-lamp"
        />
        <Button look="lamp" type="submit">
          Rename
        </Button>
      </form>
    </Dialog>
  );
}

/** What can be done with a target as a whole. */
export function TargetMenu({ target }: { target: TargetCard }) {
  const [renaming, setRenaming] = useState(false);
  const [packing, setPacking] = useState(false);
  return (
    <>
      <Menu
        items={[
          { label: 'Save as archive …', onSelect: () => setPacking(true) },
          { label: 'Rename', onSelect: () => setRenaming(true) },
          { label: 'Move to trash', danger: true, onSelect: () => void moveToTrash('target', target.id, target.name) },
        ]}
      >
        <button
          type="button"
          aria-label={`More actions for ${target.name}`}
          title="More"
          className="inline-flex size-6 items-center justify-center rounded-md text-hush hover:bg-shelf hover:text-text"
        >
          <Ellipsis size={15} />
        </button>
      </Menu>
      {packing && <PackTarget target={target} onClose={() => setPacking(false)} />}
      {renaming && <Rename target={target} onClose={() => setRenaming(false)} />}
    </>
  );
}
