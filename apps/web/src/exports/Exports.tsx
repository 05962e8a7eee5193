import { format as formatTime, formatDistanceToNow } from 'date-fns';
import { Download, FileJson, Repeat, RotateCw, Trash2, TriangleAlert } from 'lucide-react';
import { Link, useParams } from 'react-router';
import { toast } from 'sonner';
import { faultText, useAddExportMutation, useExportAgainMutation, useExportsQuery, useTargetQuery } from '../store/api';
import { moveToTrash } from '../store/trash-actions';
import type { ExportRow } from '@owl-loom/api/exports';
import type { TargetCard } from '@owl-loom/api/targets';
import { Hint, IconButton } from '../ui/controls';
import { Frame } from '../frame/AppFrame';
import { bytes, count } from '../ui/numbers';
import { Trouble } from '../ui/ErrorText';

/** @param isTwin whether another file of the same name was written, from which the time tells it */
function Row({ row, target, isTwin }: { row: ExportRow; target: TargetCard; isTwin: boolean }) {
  const [anew] = useAddExportMutation();
  const [again] = useExportAgainMutation();
  const recipe = target.recipes.find(({ id }) => id === row.recipeId);
  const { warnings } = row.report;
  const report = ({ error }: { error?: unknown }, what: string): void => {
    if (error) toast.error(faultText(error));
    else toast(what);
  };
  /** The newest state, in the form that was asked for. */
  const repeat = async (): Promise<void> => {
    const { format, depth, recipeId } = row;
    const { revision: _, ...asked } = row.request ?? { revision: 0, recipeId, format, depth };
    const result = await anew({ ...asked, target: target.id });
    report(result, 'Exporting the current recipe at full resolution.');
  };
  return (
    <li className="flex items-center gap-4 border-b border-edge py-3 last:border-0">
      <img
        src={`/api/exports/${row.id}/picture`}
        alt=""
        loading="lazy"
        className="h-14 w-20 shrink-0 rounded-md bg-pit object-cover"
      />
      <div className="min-w-0 grow">
        <a
          href={`/api/exports/${row.id}/file`}
          download={row.fileName}
          className="block truncate font-medium hover:text-lamp"
        >
          {row.fileName}
        </a>
        <p className="text-[12.5px] text-hush">
          {recipe ? (
            <Link className="hover:text-text" to={`/targets/${target.id}/loom/${recipe.id}`}>
              {recipe.name}
            </Link>
          ) : (
            'deleted recipe'
          )}
          , state {row.revision} · {formatDistanceToNow(new Date(row.createdAt), { addSuffix: true })}
          {isTwin && `, at ${formatTime(new Date(row.createdAt), 'HH:mm:ss')}`}
        </p>
      </div>
      {warnings.length > 0 && (
        <Hint
          text={
            <ul className="space-y-1">
              {warnings.map((w) => (
                <li key={`${w.path} ${w.message}`}>{w.message}</li>
              ))}
            </ul>
          }
        >
          <span tabIndex={0} className="flex items-center gap-1.5 text-[12.5px] text-ember">
            <TriangleAlert size={13} /> {warnings.length}
          </span>
        </Hint>
      )}
      <span className="figures w-44 text-right text-soft">
        {count(row.width)} × {count(row.height)} px · {row.depth} bit
      </span>
      <span className="figures w-20 text-right text-soft">{bytes(row.bytes)}</span>
      <span className="flex">
        <a
          aria-label={`Download ${row.fileName}`}
          title="Download"
          href={`/api/exports/${row.id}/file`}
          download={row.fileName}
          className="inline-flex size-7 items-center justify-center rounded-md text-soft hover:bg-shelf hover:text-text"
        >
          <Download size={15} />
        </a>
        <a
          aria-label={`Recipe of ${row.fileName}`}
          title="Download recipe"
          href={`/api/exports/${row.id}/recipe`}
          download
          className="inline-flex size-7 items-center justify-center rounded-md text-soft hover:bg-shelf hover:text-text"
        >
          <FileJson size={15} />
        </a>
        <IconButton
          label="Export again, bit-identical"
          disabled={!recipe || !row.request}
          onClick={async () => report(await again(row.id), 'Exporting again, bit-identical.')}
        >
          <Repeat size={15} />
        </IconButton>
        <IconButton label="Export the current recipe in this format" disabled={!recipe} onClick={() => void repeat()}>
          <RotateCw size={15} />
        </IconButton>
        <IconButton label={`Remove ${row.fileName}`} onClick={() => void moveToTrash('export', row.id, row.fileName)}>
          <Trash2 size={14} />
        </IconButton>
      </span>
    </li>
  );
}

/** Files that were written: from which state, how large, and to be had again. */
export function Exports() {
  const { id = '' } = useParams();
  const { data: target, error } = useTargetQuery(id);
  const { data: rows, error: rowsError } = useExportsQuery(id);
  if (!target || !rows)
    return error || rowsError ? <Trouble message={faultText(error ?? rowsError)} /> : <div className="h-full bg-pit" />;
  return (
    <div className="flex h-full flex-col">
      <Frame target={target} />
      <main className="mx-auto w-full max-w-5xl grow overflow-y-auto p-8">
        <h1 className="mb-4 text-[20px] font-semibold">Files of {target.name}</h1>
        {rows.length === 0 ? (
          <p className="max-w-lg text-[15px] text-soft">
            No exports yet. Open a recipe in the Loom and press <b className="text-text">Export …</b>. The files appear
            here with the version of the recipe that they were made from.
          </p>
        ) : (
          <ul>
            {rows.map((row) => (
              <Row
                key={row.id}
                row={row}
                target={target}
                isTwin={rows.some(({ id, fileName }) => id !== row.id && fileName === row.fileName)}
              />
            ))}
          </ul>
        )}
      </main>
    </div>
  );
}
