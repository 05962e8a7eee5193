import { Ellipsis } from 'lucide-react';
import { useRef } from 'react';
import { toast } from 'sonner';
import { useBlankEdgesMutation } from '../store/api';
import { moveToTrash } from '../store/trash-actions';
import type { StackRow } from '@owl-loom/api/stacks';
import { showError } from '../store/show-error';
import { Menu } from '../ui/Menu';
import { validateFile } from './check';
import { sendFile } from './upload';

/** What can be done to one stack. */
export function RowMenu({ row }: { row: StackRow }) {
  const [edges] = useBlankEdgesMutation();
  const picker = useRef<HTMLInputElement>(null);

  const replace = async (file: File): Promise<void> => {
    const refused = await validateFile(file);
    if (refused) {
      toast.error(refused);
      return;
    }
    const sending = sendFile(row.targetId, file, () => undefined, new AbortController().signal, row.id);
    toast.promise(sending, {
      loading: `Uploading ${file.name} …`,
      success: ({ again }) =>
        again
          ? `${file.name} is identical to the current file of ${row.name}.`
          : `${file.name} replaces ${row.name} in all recipes.`,
      error: (error) => (error instanceof Error ? error.message : String(error)),
    });
  };
  return (
    <>
      <input
        ref={picker}
        type="file"
        hidden
        aria-label={`A newer file for ${row.name}`}
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = '';
          if (file) void replace(file);
        }}
      />
      <Menu
        items={[
          { label: 'Replace file …', onSelect: () => picker.current?.click() },
          ...(row.edgeZeros > 0 || row.edgesBlank
            ? [
                {
                  label: row.edgesBlank ? 'Treat edge zeros as data' : 'Treat edge zeros as no data',
                  onSelect: () => void edges({ id: row.id, blank: !row.edgesBlank }).then(showError),
                },
              ]
            : []),
          { label: 'Move to trash', danger: true, onSelect: () => void moveToTrash('stack', row.id, row.name) },
        ]}
      >
        <button
          type="button"
          aria-label={`More actions for ${row.name}`}
          title={`More actions for ${row.name}`}
          onClick={(event) => event.stopPropagation()}
          className="inline-flex size-7 items-center justify-center rounded-md text-soft hover:bg-shelf hover:text-text"
        >
          <Ellipsis size={15} />
        </button>
      </Menu>
    </>
  );
}
