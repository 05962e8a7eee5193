import { Plus } from 'lucide-react';
import { useState } from 'react';
import type { PathInfo } from '../../../worker/protocol';
import { AddStepList } from './AddStepList';

/** The plus at the end of a thread. While its list is open, an empty bead shows where the new one will go. */
export function AddStep({
  x,
  y,
  image,
  width,
  forMask,
  label,
  onAdd,
}: {
  x: number;
  y: number;
  image: PathInfo | undefined;
  /** Of the bead that it will be. */
  width: number;
  forMask?: boolean;
  label: string;
  onAdd: (kind: string) => void;
}) {
  const [open, setOpen] = useState(false);
  return (
    <AddStepList image={image} forMask={forMask} onAdd={onAdd} onOpenChange={setOpen} side="top">
      <button
        type="button"
        aria-label={label}
        className={`absolute z-10 flex h-6 -translate-y-1/2 items-center justify-center rounded-[7px] border border-dashed text-hush transition-all hover:border-lamp hover:text-lamp ${open ? 'border-lamp bg-room text-lamp' : 'border-rim bg-room'}`}
        style={{ left: x, top: y, width: open ? width : 24 }}
      >
        {open ? <span className="text-[12.5px]">goes here</span> : <Plus size={13} />}
      </button>
    </AddStepList>
  );
}
