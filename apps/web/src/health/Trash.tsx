import { formatDistanceToNowStrict } from 'date-fns';
import { FileImage, Grid3x3, Image, Layers2, type LucideIcon, Trash2, Undo2, Waypoints } from 'lucide-react';
import { useState } from 'react';
import { faultText } from '../store/api';
import { useDeletePermanentlyMutation, useEmptyTrashMutation, useTrashQuery } from '../store/maintenance-api';
import { restoreFromTrash } from '../store/trash-actions';
import type { TrashedRow } from '@owl-loom/api/maintenance';
import { showError } from '../store/show-error';
import { Confirm } from '../ui/Confirm';
import { Button, IconButton } from '../ui/controls';
import { Frame } from '../frame/AppFrame';
import { Trouble } from '../ui/ErrorText';

const KINDS: Record<TrashedRow['kind'], { readonly Icon: LucideIcon; readonly word: string }> = {
  target: { Icon: Grid3x3, word: 'Target with contents' },
  stack: { Icon: Layers2, word: 'Stack' },
  recipe: { Icon: Waypoints, word: 'Recipe with history' },
  swatch: { Icon: Image, word: 'Swatch' },
  export: { Icon: FileImage, word: 'Export' },
};

function Row({ row, onDrop }: { row: TrashedRow; onDrop: () => void }) {
  const { Icon, word } = KINDS[row.kind];
  return (
    <li className="flex items-center gap-4 border-b border-edge py-3 last:border-0">
      <Icon size={17} className="shrink-0 text-hush" aria-hidden />
      <div className="min-w-0 grow">
        <p className="truncate font-medium">{row.name}</p>
        <p className="text-[12.5px] text-hush">
          {word}
          {row.target && ` · ${row.target}`}
        </p>
      </div>
      <p className="w-64 shrink-0 text-right text-[12.5px] text-soft">
        removed {formatDistanceToNowStrict(new Date(row.deletedAt))} ago
        <span className="block text-hush">deleted permanently in {formatDistanceToNowStrict(new Date(row.until))}</span>
      </p>
      <Button small onClick={() => void restoreFromTrash(row)}>
        <Undo2 size={13} /> Restore
      </Button>
      <IconButton label={`Delete ${row.name} permanently`} onClick={onDrop}>
        <Trash2 size={14} />
      </IconButton>
    </li>
  );
}

/** What was removed, and the way back; it goes for good after a month, or by hand. */
export function Trash() {
  const { data: rows, error } = useTrashQuery(undefined, { refetchOnMountOrArgChange: true });
  const [dropOne] = useDeletePermanentlyMutation();
  const [empty, { isLoading }] = useEmptyTrashMutation();
  const [going, setGoing] = useState<TrashedRow | 'all'>();
  if (!rows) return error ? <Trouble message={faultText(error)} /> : <div className="h-full bg-pit" />;
  const confirmed = async (): Promise<void> => {
    setGoing(undefined);
    if (going === 'all') showError(await empty());
    else if (going) showError(await dropOne(going));
  };
  return (
    <div className="flex h-full flex-col">
      <Frame />
      <main className="mx-auto w-full max-w-5xl grow overflow-y-auto p-8">
        <div className="mb-4 flex items-start justify-between gap-6">
          <div>
            <h1 className="text-[20px] font-semibold">Trash</h1>
            <p className="mt-1 text-soft">Removed items stay here for 30 days, with their files.</p>
          </div>
          {rows.length > 0 && (
            <Button look="danger" disabled={isLoading} onClick={() => setGoing('all')}>
              Empty the trash
            </Button>
          )}
        </div>
        {rows.length === 0 ? (
          <p className="mt-16 text-center text-hush">The trash is empty.</p>
        ) : (
          <ul>
            {rows.map((row) => (
              <Row key={`${row.kind} ${row.id}`} row={row} onDrop={() => setGoing(row)} />
            ))}
          </ul>
        )}
        <Confirm
          open={going !== undefined}
          title={going === 'all' ? 'Empty the trash?' : `Delete ${going?.name ?? ''} permanently?`}
          says="Deletes the files Owl Loom keeps. This cannot be undone. Your own copies are not touched."
          action="Delete permanently"
          onConfirm={() => void confirmed()}
          onClose={() => setGoing(undefined)}
        />
      </main>
    </div>
  );
}
