import { many } from '@owl-loom/base/join-words';
import { useState } from 'react';
import { toast } from 'sonner';
import { useArchiveTargetMutation } from '../store/maintenance-api';
import type { TargetCard } from '@owl-loom/api/targets';
import { showError } from '../store/show-error';
import { Button } from '../ui/controls';
import { Dialog } from '../ui/Dialog';

/** Asks how a target is to be packed into one file; the file is offered when it is ready. */
export function PackTarget({ target, onClose }: { target: TargetCard; onClose: () => void }) {
  const [pack, { isLoading }] = useArchiveTargetMutation();
  const [originals, setOriginals] = useState(true);
  const [impersonal, setImpersonal] = useState(false);
  const go = async (): Promise<void> => {
    const result = await pack({ id: target.id, originals, impersonal });
    showError(result);
    if (result.error) return;
    toast(`Saving the archive of ${target.name}; you will be offered the download.`);
    onClose();
  };
  return (
    <Dialog open onOpenChange={(open) => !open && onClose()} title={`Save ${target.name} as archive`}>
      <p className="text-soft">
        Recipes with their history, swatches, your palettes and patterns are saved in one zip file. Drop it on the shelf
        of any Owl Loom to open it.
      </p>
      <Tick
        checked={originals}
        onChange={setOriginals}
        label={`Include the files of its ${many(target.stacks.length, 'stack')}`}
        hint="Without them the archive is smaller, but the same files have to be dropped in again."
      />
      <Tick
        checked={impersonal}
        onChange={setImpersonal}
        label="Leave out who and where"
        hint="Observer, place and paths on your disk are left out of the headers; pixels are unchanged."
      />
      <div className="mt-5 flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button look="lamp" disabled={isLoading} onClick={() => void go()}>
          Save archive
        </Button>
      </div>
    </Dialog>
  );
}

function Tick({
  checked,
  onChange,
  label,
  hint,
}: {
  checked: boolean;
  onChange: (checked: boolean) => void;
  label: string;
  hint: string;
}) {
  return (
    <label className="mt-4 flex items-baseline gap-2">
      <input
        type="checkbox"
        checked={checked}
        onChange={(event) => onChange(event.target.checked)}
        className="accent-lamp"
      />
      <span>
        {label}
        <span className="block text-[12.5px] text-hush">{hint}</span>
      </span>
    </label>
  );
}
