import { Columns2, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { spoken } from '../../../core/spoken';
import { type SheetEntry, useDropPaletteMutation } from '../store/api';
import { tell } from '../store/tell';
import { Confirm } from '../ui/Confirm';
import { IconButton } from '../ui/controls';
import { byArrows } from './by-arrows';

/** All palettes side by side: those that this target's filters allow, woven on its data, then the others with what they lack. */
export function ContactSheet({
  entries,
  chosen,
  against,
  stopped,
  onChoose,
  onAgainst,
}: {
  entries: readonly SheetEntry[];
  chosen: string | undefined;
  against: string | undefined;
  /** Whether the weaving was stopped before all were done. */
  stopped: boolean;
  onChoose: (name: string) => void;
  onAgainst: (name: string | undefined) => void;
}) {
  const [drop] = useDropPaletteMutation();
  const [going, setGoing] = useState<SheetEntry>();
  const able = entries.filter(({ missing }) => missing.length === 0);
  const lacking = entries.filter(({ missing }) => missing.length > 0);
  const choose = (next: number): boolean => {
    const found = able[next];
    if (found?.ready) onChoose(found.name);
    return found?.ready ?? false;
  };
  const now = able.findIndex(({ name }) => name === chosen);
  return (
    <div className="min-h-0 grow overflow-y-auto px-4 pb-4">
      <ul
        className="grid grid-cols-2 gap-x-3 gap-y-3"
        onKeyDown={(event) => byArrows(event, now, choose, '[data-palette]')}
      >
        {able.map((entry) => {
          const { name, says, picture, ready, trouble, id } = entry;
          const on = name === chosen;
          return (
            <li key={id ?? name} className="group relative">
              <button
                type="button"
                data-palette={name}
                aria-pressed={on}
                disabled={!ready}
                title={says}
                onClick={() => onChoose(name)}
                className={`block aspect-3/2 w-full overflow-hidden rounded-md border bg-pit ${on ? 'border-lamp' : 'border-edge hover:border-rim'}`}
              >
                {ready ? (
                  <img src={`/api/sheets/${picture}`} alt={name} className="size-full object-cover" />
                ) : (
                  <span className="block px-2 text-[12px] leading-snug text-hush">
                    {trouble ?? (stopped ? 'not woven' : 'weaving …')}
                  </span>
                )}
              </button>
              <div className="mt-1 flex h-6 items-center gap-1">
                <span className={`truncate text-[12.5px] ${on ? 'text-lamp' : 'text-soft'}`}>{name}</span>
                <span className="ml-auto flex opacity-0 group-focus-within:opacity-100 group-hover:opacity-100">
                  {id && (
                    <IconButton label={`Remove the palette ${name}`} onClick={() => setGoing(entry)}>
                      <Trash2 size={13} />
                    </IconButton>
                  )}
                </span>
                {ready && !on && (
                  <IconButton
                    label={name === against ? `Let ${name} go` : `Hold ${name} against ${chosen ?? 'the picture'}`}
                    active={name === against}
                    onClick={() => onAgainst(name === against ? undefined : name)}
                  >
                    <Columns2 size={14} />
                  </IconButton>
                )}
              </div>
            </li>
          );
        })}
      </ul>
      {lacking.length > 0 && (
        <>
          <h2 className="mt-4 mb-1 text-[12.5px] text-hush">need filters that are not here</h2>
          <ul>
            {lacking.map(({ name, says, missing, id }) => (
              <li
                key={id ?? name}
                title={says}
                className="flex justify-between gap-3 border-b border-edge py-1 text-[12.5px] last:border-0"
              >
                <span className="truncate text-soft">{name}</span>
                <span className="shrink-0 text-hush">without {spoken(missing)}</span>
              </li>
            ))}
          </ul>
        </>
      )}
      <Confirm
        open={going !== undefined}
        title={`Remove the palette ${going?.name ?? ''}?`}
        says="Recipes that were begun with it stay as they are."
        action="Remove it"
        onConfirm={() => {
          if (going?.id) void drop(going.id).then(tell);
          setGoing(undefined);
        }}
        onClose={() => setGoing(undefined)}
      />
    </div>
  );
}
