import { formatDistanceToNow } from 'date-fns';
import { Columns2, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { type SwatchRow, useDropSwatchMutation } from '../store/api';
import { tell } from '../store/tell';
import { Confirm } from '../ui/Confirm';
import { IconButton } from '../ui/controls';
import { byArrows } from './by-arrows';
import { swatchPicture } from './pictures';

/** The wall: every kept state by its picture. */
export function Wall({
  swatches,
  chosen,
  against,
  onChoose,
  onAgainst,
}: {
  swatches: readonly SwatchRow[];
  chosen: string | undefined;
  against: string | undefined;
  onChoose: (id: string) => void;
  onAgainst: (id: string | undefined) => void;
}) {
  const [drop] = useDropSwatchMutation();
  const [going, setGoing] = useState<SwatchRow>();
  const choose = (next: number): boolean => {
    const found = swatches[next];
    if (found) onChoose(found.id);
    return found !== undefined;
  };
  const now = swatches.findIndex(({ id }) => id === chosen);
  return (
    <div className="min-h-0 grow overflow-y-auto px-4 pb-4">
      <ul
        className="grid grid-cols-2 gap-x-3 gap-y-3"
        onKeyDown={(event) => byArrows(event, now, choose, '[data-swatch]')}
      >
        {swatches.map((swatch) => {
          const { id, name, note, picture, trouble, createdAt } = swatch;
          const on = id === chosen;
          return (
            <li key={id} className="group relative">
              <button
                type="button"
                data-swatch={id}
                aria-pressed={on}
                title={note || name}
                onClick={() => onChoose(id)}
                className={`block aspect-3/2 w-full overflow-hidden rounded-md border bg-pit ${on ? 'border-lamp' : 'border-edge hover:border-rim'}`}
              >
                {picture ? (
                  <img src={swatchPicture(picture)} alt={name} className="size-full object-cover" />
                ) : (
                  <span className="block px-2 text-[12.5px] leading-snug text-hush">
                    {trouble ? 'no picture' : 'weaving …'}
                  </span>
                )}
              </button>
              <div className="mt-1 flex h-6 items-center gap-1">
                <span className={`truncate text-[12.5px] ${on ? 'text-lamp' : 'text-soft'}`}>{name}</span>
                <span className="ml-auto flex opacity-0 group-focus-within:opacity-100 group-hover:opacity-100">
                  <IconButton label={`Remove the swatch ${name}`} onClick={() => setGoing(swatch)}>
                    <Trash2 size={13} />
                  </IconButton>
                </span>
                {!on && picture && (
                  <IconButton
                    label={id === against ? `Let ${name} go` : `Hold ${name} against the large one`}
                    active={id === against}
                    onClick={() => onAgainst(id === against ? undefined : id)}
                  >
                    <Columns2 size={14} />
                  </IconButton>
                )}
              </div>
              <p className="truncate text-[12px] text-hush">
                {note || `${formatDistanceToNow(new Date(createdAt))} ago`}
              </p>
            </li>
          );
        })}
      </ul>
      <Confirm
        open={going !== undefined}
        title={`Remove the swatch ${going?.name ?? ''}?`}
        says="Its picture and the state that it keeps go with it. The recipe stays as it is."
        action="Remove it"
        onConfirm={() => {
          if (going) void drop(going.id).then(tell);
          setGoing(undefined);
        }}
        onClose={() => setGoing(undefined)}
      />
    </div>
  );
}
