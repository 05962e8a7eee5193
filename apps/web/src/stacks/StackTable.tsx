import { useState } from 'react';
import {
  createColumnHelper,
  createSortedRowModel,
  rowSortingFeature,
  sortFns,
  tableFeatures,
  useTable,
} from '@tanstack/react-table';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { KNOWN_FILTERS } from '@owl-loom/image/metadata/filter';
import { stackCover } from '../engine/thumbnails';
import { useEditStackMutation } from '../store/api';
import type { StackRow } from '@owl-loom/api/stacks';
import { showError } from '../store/show-error';
import { BitmapView } from '../ui/BitmapView';
import { filterColour } from '@owl-loom/recipe/filter-colours';
import { count, exposed, figure } from '../ui/numbers';
import { RowMenu } from './RowMenu';
import { ScaleCell, ScaleHead } from './ScaleCell';

const features = tableFeatures({ rowSortingFeature, sortedRowModel: createSortedRowModel(), sortFns });
const helper = createColumnHelper<typeof features, StackRow>();

function Thumb({ row }: { row: StackRow }) {
  return (
    <BitmapView load={() => stackCover(row, 150)} stamp={row.pixels} className="h-8 w-12 rounded bg-pit object-cover" />
  );
}

function FilterCell({ row }: { row: StackRow }) {
  const [edit] = useEditStackMutation();
  // What is being typed outlives whatever the server answers meanwhile: another filter brings another wavelength.
  const [typed, setTyped] = useState<string>();
  return (
    <span className="flex items-center gap-2">
      <span className="size-2.5 shrink-0 rotate-45" style={{ background: filterColour(row.filter) }} />
      <input
        aria-label={`Filter of ${row.name}`}
        list="known-filters"
        key={row.filter ?? ''}
        defaultValue={row.filter ?? ''}
        placeholder="filter?"
        onClick={(event) => event.stopPropagation()}
        onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
        onBlur={(event) =>
          event.target.value !== (row.filter ?? '') &&
          void edit({ id: row.id, change: { filter: event.target.value.trim() || null } })
        }
        className="h-7 w-[5.5rem] rounded-md border border-transparent bg-transparent px-1.5 font-semibold hover:border-edge focus:border-lamp"
        style={{ color: filterColour(row.filter) }}
      />
      <input
        aria-label={`Wavelength of ${row.name} in nanometres`}
        inputMode="decimal"
        value={typed ?? row.wavelength ?? ''}
        onChange={(event) => setTyped(event.target.value)}
        placeholder="nm"
        title="Wavelength in nanometres"
        onClick={(event) => event.stopPropagation()}
        onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
        onBlur={(event) => {
          setTyped(undefined);
          const text = event.target.value.trim().replace(',', '.');
          const wavelength = text === '' ? null : Number(text);
          if (wavelength !== row.wavelength && !Number.isNaN(wavelength))
            void edit({ id: row.id, change: { wavelength } }).then(showError);
        }}
        className="figures h-7 w-14 rounded-md border border-transparent bg-transparent px-1.5 text-right text-hush hover:border-edge focus:border-lamp"
      />
    </span>
  );
}

function DomainCell({ row }: { row: StackRow }) {
  const [edit] = useEditStackMutation();
  const next = row.domain === 'linear' ? 'stretched' : 'linear';
  return (
    <button
      type="button"
      title={`Detected from the file; click to mark as ${next}`}
      onClick={(event) => {
        event.stopPropagation();
        void edit({ id: row.id, change: { domain: next } });
      }}
      className={`rounded px-1.5 py-0.5 hover:bg-edge ${row.domain === 'stretched' ? 'text-lamp' : 'text-soft'}`}
    >
      {row.domain}
    </button>
  );
}

const planes = (row: StackRow, pick: (plane: StackRow['figures']['planes'][number]) => string) =>
  row.figures.planes.map(pick).join(' ');

const columns = helper.columns([
  helper.display({ id: 'thumb', header: '', cell: ({ row }) => <Thumb row={row.original} /> }),
  helper.accessor('name', {
    header: 'Name',
    cell: ({ row }) => (
      <span className="flex max-w-64 items-baseline gap-2.5">
        <span className="shrink-0 font-medium">{row.original.name}</span>
        <span className="truncate text-[12px] text-hush" title={row.original.fileName}>
          {row.original.fileName}
        </span>
      </span>
    ),
  }),
  helper.accessor((row) => row.filter ?? '', {
    id: 'filter',
    header: 'Filter',
    cell: ({ row }) => <FilterCell row={row.original} />,
  }),
  helper.accessor((row) => row.exposure ?? 0, {
    id: 'exposure',
    header: 'Exposure',
    cell: ({ row }) => <span className="figures">{exposed(row.original.exposure)}</span>,
  }),
  helper.accessor((row) => row.width * row.height, {
    id: 'size',
    header: 'Size',
    cell: ({ row }) => (
      <span className="figures">
        {count(row.original.width)} × {count(row.original.height)}
      </span>
    ),
  }),
  helper.accessor((row) => row.figures.planes[0]?.sky ?? 0, {
    id: 'sky',
    header: 'Sky',
    cell: ({ row }) => <span className="figures">{planes(row.original, (p) => figure(p.sky, 4))}</span>,
  }),
  helper.accessor((row) => row.figures.planes[0]?.noise ?? 0, {
    id: 'noise',
    header: 'Noise',
    cell: ({ row }) => <span className="figures">{planes(row.original, (p) => figure(p.noise, 5))}</span>,
  }),
  helper.accessor((row) => row.figures.stars[0]?.fwhm ?? 0, {
    id: 'fwhm',
    header: 'FWHM',
    cell: ({ row }) => (
      <span className="figures">{row.original.figures.stars.map((s) => figure(s.fwhm, 2)).join(' ')} px</span>
    ),
  }),
  helper.accessor('divisor', {
    enableSorting: false,
    header: ({ table }) => <ScaleHead target={table.getRowModel().rows[0]?.original.targetId ?? ''} />,
    cell: ({ row }) => <ScaleCell row={row.original} />,
  }),
  helper.accessor('domain', { header: 'Data', cell: ({ row }) => <DomainCell row={row.original} /> }),
  helper.display({ id: 'more', header: '', cell: ({ row }) => <RowMenu row={row.original} /> }),
]);

/** The target's stacks with what was measured of each; any column sorts. */
export function StackTable({
  rows,
  chosen,
  onChoose,
}: {
  rows: StackRow[];
  chosen: string | undefined;
  onChoose: (id: string) => void;
}) {
  const table = useTable({ features, columns, data: rows });
  return (
    <>
      <datalist id="known-filters">
        {KNOWN_FILTERS.map((filter) => (
          <option key={filter} value={filter} />
        ))}
      </datalist>
      <table className="w-full text-[13px]">
        <thead className="sticky top-0 z-10 bg-room">
          {table.getHeaderGroups().map((group) => (
            <tr key={group.id} className="border-b border-edge text-left text-[12px] text-hush">
              {group.headers.map((header) => (
                <th key={header.id} className="px-2 py-2 font-normal">
                  {header.column.getCanSort() ? (
                    <button
                      type="button"
                      onClick={header.column.getToggleSortingHandler()}
                      className="flex items-center gap-1 hover:text-text"
                    >
                      <table.FlexRender header={header} />
                      {header.column.getIsSorted() === 'asc' && <ArrowUp size={11} />}
                      {header.column.getIsSorted() === 'desc' && <ArrowDown size={11} />}
                    </button>
                  ) : (
                    <table.FlexRender header={header} />
                  )}
                </th>
              ))}
            </tr>
          ))}
        </thead>
        <tbody>
          {table.getRowModel().rows.map((row) => (
            <tr
              key={row.id}
              aria-selected={chosen === row.original.id}
              onClick={() => onChoose(row.original.id)}
              className={`cursor-pointer border-b border-edge ${chosen === row.original.id ? 'bg-shelf' : 'hover:bg-board'}`}
            >
              {row.getAllCells().map((cell) => (
                <td key={cell.id} className="px-2 py-1 whitespace-nowrap">
                  <table.FlexRender cell={cell} />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
