import { many } from '../../../core/spoken';
import { useState } from 'react';
import { toast } from 'sonner';
import { useArchiveTargetMutation } from '../store/house-api';
import type { TargetCard } from '../store/rows';
import { tell } from '../store/tell';
import { Button } from '../ui/controls';
import { Dialog } from '../ui/Dialog';

/** Asks how a target is to be packed into one file; the file is offered when it is ready. */
export function PackTarget({ target, onClose }: { target: TargetCard; onClose: () => void }) {
  const [pack, { isLoading }] = useArchiveTargetMutation();
  const [originals, setOriginals] = useState(true);
  const go = async (): Promise<void> => {
    const result = await pack({ id: target.id, originals });
    tell(result);
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
      <label className="mt-4 flex items-baseline gap-2">
        <input
          type="checkbox"
          checked={originals}
          onChange={(event) => setOriginals(event.target.checked)}
          className="accent-lamp"
        />
        <span>
          with the files of its {many(target.stacks.length, 'stack')}
          <span className="block text-[12.5px] text-hush">
            Without them it is small; whoever opens it drops the same files in.
          </span>
        </span>
      </label>
      <div className="mt-5 flex justify-end gap-2">
        <Button onClick={onClose}>Not now</Button>
        <Button look="lamp" disabled={isLoading} onClick={() => void go()}>
          Pack it
        </Button>
      </div>
    </Dialog>
  );
}
