import type { ReactNode } from 'react';
import type { SwatchRow } from '@owl-loom/api/swatches';

/** One of several pictures that are being woven: the picture once it is there, or why there is none. */
export function WovenTile({
  name,
  swatch,
  why,
  more,
}: {
  name: string;
  swatch: SwatchRow | undefined;
  /** Why it was not begun. */
  why?: string;
  more?: ReactNode;
}) {
  return (
    <li className="overflow-hidden rounded-lg border border-edge bg-pit">
      <div className="grid h-44 place-items-center">
        {swatch?.picture ? (
          <img src={`/api/swatch-pictures/${swatch.picture}`} alt={name} className="size-full object-cover" />
        ) : (
          <span className="px-5 text-center text-[12.5px] text-soft">{why ?? swatch?.trouble ?? 'weaving …'}</span>
        )}
      </div>
      <p className="flex items-center justify-between gap-3 bg-board px-3 py-1.5">
        <span className="truncate">{name}</span>
        {more}
      </p>
    </li>
  );
}
