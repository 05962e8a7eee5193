import { Plus } from 'lucide-react';
import { useApp } from '../../store/store';
import { Menu } from '../../ui/Menu';
import { addMask } from '../edit';
import { useMaskStarts } from '../mask-starts';

/** Adds a shared mask, which layers and steps can then be seen through. */
export function AddMask({ x, y }: { x: number; y: number }) {
  const recipe = useApp((state) => state.draft.recipe);
  const starts = useMaskStarts();
  if (!recipe) return null;
  return (
    <Menu items={starts.map(({ label, name, mask }) => ({ label, onSelect: () => addMask(name, mask) }))}>
      <button
        type="button"
        className="absolute z-10 inline-flex h-6 -translate-y-1/2 items-center gap-1 rounded-[7px] border border-dashed border-rim px-2 text-[12px] text-hush hover:border-lamp hover:text-lamp"
        style={{ left: x, top: y }}
      >
        <Plus size={12} /> mask
      </button>
    </Menu>
  );
}
