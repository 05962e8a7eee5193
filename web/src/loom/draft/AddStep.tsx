import { Plus } from 'lucide-react';
import { useState } from 'react';
import type { Recipe, Step } from '../../../../core/recipe/schema';
import { AddStepList } from '../bench/AddStepList';

/** A step of a kind with what it cannot do without. */
export function newStep(
  kind: string,
  recipe: Recipe,
  self: string | undefined,
  frame: { width: number; height: number } | undefined,
): Step {
  const other = recipe.strands.find((strand) => strand.id !== self)?.id ?? '';
  const { width, height } = frame ?? { width: 1000, height: 1000 };
  switch (kind) {
    case 'continuum':
      return {
        do: kind,
        broad: recipe.strands.find(({ id }) => id !== self && /^(r|red|l|lum)/i.test(id))?.id ?? other,
      };
    case 'blur':
      return { do: kind, radius: 2 };
    case 'split':
      return { do: kind, keep: 'fine' };
    case 'linear-fit':
    case 'align':
    case 'match-seeing':
      return { do: kind, to: other };
    case 'crop':
      return {
        do: kind,
        x: Math.round(width * 0.05),
        y: Math.round(height * 0.05),
        width: Math.round(width * 0.9),
        height: Math.round(height * 0.9),
      };
    case 'tint':
      return { do: kind, colour: '#ffb861' };
    default:
      return { do: kind };
  }
}

/** The plus at the end of a thread. While its list is open, an empty bead shows where the new one will go. */
export function AddStep({
  x,
  y,
  mono,
  label,
  onAdd,
}: {
  x: number;
  y: number;
  mono: boolean;
  label: string;
  onAdd: (kind: string) => void;
}) {
  const [open, setOpen] = useState(false);
  return (
    <AddStepList mono={mono} onAdd={onAdd} onOpenChange={setOpen} side="top">
      <button
        type="button"
        aria-label={label}
        className={`absolute z-10 flex h-6 -translate-y-1/2 items-center justify-center rounded-[7px] border border-dashed text-hush transition-all hover:border-lamp hover:text-lamp ${open ? 'w-[92px] border-lamp bg-room text-lamp' : 'w-6 border-rim bg-room'}`}
        style={{ left: x, top: y }}
      >
        {open ? <span className="text-[12.5px]">goes here</span> : <Plus size={13} />}
      </button>
    </AddStepList>
  );
}
