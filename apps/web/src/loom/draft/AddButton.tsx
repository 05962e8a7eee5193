import { Plus } from 'lucide-react';
import type { ComponentProps } from 'react';

/** The dashed button at a place of the draft that opens a list of what can be added there. */
export function AddButton({ word, x, y, ...rest }: ComponentProps<'button'> & { word: string; x: number; y: number }) {
  return (
    <button
      {...rest}
      type="button"
      className="absolute z-10 inline-flex h-6 -translate-y-1/2 items-center gap-1 rounded-[7px] border border-dashed border-rim px-2 text-[12px] text-hush hover:border-lamp hover:text-lamp"
      style={{ left: x, top: y }}
    >
      <Plus size={12} /> {word}
    </button>
  );
}
