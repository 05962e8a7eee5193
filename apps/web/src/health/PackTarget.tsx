import { many } from '#base/join-words';
import { useState } from 'react';
import { toast } from 'sonner';
import { useArchiveTargetMutation } from '../store/maintenance-api';
import type { TargetCard } from '../store/rows';
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
    toast(`${target.name} is being packed; the file is offered when it is ready.`);
    onClose();
  };
  return (
    <Dialog open onOpenChange={(open) => !open && onClose()} title={`Pack ${target.name} into one file`}>
      <p className="text-soft">
        Recipes with all their states, swatches with their notes, your palettes and patterns go into a zip. Drop it on
        the shelf of any Owl Loom, and the target is there as it is here.
      </p>
      <Tick
        checked={originals}
        onChange={setOriginals}
        label={`with the files of its ${many(target.stacks.length, 'stack')}`}
        hint="Without them it is small; whoever opens it drops the same files in."
      />
      <Tick
        checked={impersonal}
        onChange={setImpersonal}
        label="leave out who and where"
        hint="Observer, place and paths on your disk stay out of the headers; pixels stay as they are."
      />
      <div className="mt-5 flex justify-end gap-2">
        <Button onClick={onClose}>Not now</Button>
        <Button look="lamp" disabled={isLoading} onClick={() => void go()}>
          Pack it
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
