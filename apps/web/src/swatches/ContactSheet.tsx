import { useState } from 'react';
import { joinWithAnd } from '@owl-loom/base/join-words';
import { useDeletePaletteMutation } from '../store/api';
import type { SheetEntry } from '@owl-loom/api/palettes';
import { showError } from '../store/show-error';
import { Confirm } from '../ui/Confirm';
import { sheetPicture } from '../store/thumbnail-urls';
import { type Tile, Tiles } from './Tiles';

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
  against: readonly string[];
  /** Whether the weaving was stopped before all were done. */
  stopped: boolean;
  onChoose: (name: string) => void;
  onAgainst: (name: string) => void;
}) {
  const [drop] = useDeletePaletteMutation();
  const [going, setGoing] = useState<SheetEntry>();
  const able = entries.filter(({ missing }) => missing.length === 0);
  const lacking = entries.filter(({ missing }) => missing.length > 0);
  const tiles = able.map((entry): Tile => {
    const { id, name, says, picture, ready, trouble } = entry;
    return {
      id: name,
      name,
      title: says,
      picture: ready ? sheetPicture(picture) : undefined,
      empty: trouble ?? (stopped ? 'Not woven' : 'weaving …'),
      onRemove: id === undefined ? undefined : () => setGoing(entry),
    };
  });
  return (
    <div tabIndex={0} className="min-h-0 grow overflow-y-auto px-4 pb-4">
      <Tiles kind="palette" {...{ tiles, chosen, against, onChoose, onAgainst }} />
      {lacking.length > 0 && (
        <>
          <h2 className="mt-4 mb-1 text-[12.5px] text-hush">Missing filters</h2>
          <ul>
            {lacking.map(({ name, says, missing, id }) => (
              <li
                key={id ?? name}
                title={says}
                className="flex justify-between gap-3 border-b border-edge py-1 text-[12.5px] last:border-0"
              >
                <span className="truncate text-soft">{name}</span>
                <span className="shrink-0 text-hush">without {joinWithAnd(missing)}</span>
              </li>
            ))}
          </ul>
        </>
      )}
      <Confirm
        open={going !== undefined}
        title={`Remove the palette ${going?.name ?? ''}?`}
        says="Recipes made from it are not changed."
        action="Remove"
        onConfirm={() => {
          if (going?.id) void drop(going.id).then(showError);
          setGoing(undefined);
        }}
        onClose={() => setGoing(undefined)}
      />
    </div>
  );
}
