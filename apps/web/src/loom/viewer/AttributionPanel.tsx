import { X } from 'lucide-react';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { AttributionRow } from '../../../worker/protocol';
import { selectionChanged } from '../../store/draft';
import { useAppSelector, useAppDispatch } from '../../store/store';
import { viewChanged } from '../../store/view';
import { IconButton } from '../../ui/controls';
import { count, figure } from '../../ui/numbers';
import { imageName, stepName } from '@owl-loom/recipe/names';
import { useHash, usePicture } from '../../session/session';
import { useStrandColours } from '../../session/strands';
import { useLatestReply } from '../../session/use-latest-reply';
import { shown, strandShares } from './attribution-text';
import { stepAt } from '@owl-loom/recipe/paths';

const PLANES = ['red', 'green', 'blue'] as const;

const chip = (colour: readonly number[]): string =>
  `rgb(${colour.map((v) => Math.round(255 * Math.min(1, Math.max(0, v)))).join(' ')})`;

/** A change of three planes, each as a number in its colour. */
function Change({ change }: { change: readonly number[] }) {
  return (
    <span className="figures flex gap-2">
      {change.map((v, p) => (
        <span key={PLANES[p]} className="w-12 text-right" style={{ color: `var(--color-${PLANES[p]})` }}>
          {shown(v)}
        </span>
      ))}
    </span>
  );
}

function Row({ row, sum }: { row: AttributionRow; sum: readonly number[] }) {
  const recipe = useAppSelector((state) => state.draft.recipe);
  const strandColour = useStrandColours(recipe);
  const send = useAppDispatch();
  if (!recipe) return null;
  const step = stepAt(recipe, row.path);
  const name = step?.do ? (step.name ?? stepName(step.do)) : imageName(recipe, row.path);
  const shares = strandShares(row);
  return (
    <li className="border-b border-edge py-1.5 last:border-0">
      <button
        type="button"
        className="flex w-full items-center gap-2.5 rounded-md text-left hover:text-lamp"
        onClick={() => send(selectionChanged(row.path))}
      >
        <i
          aria-hidden="true"
          className="h-4 w-4 shrink-0 rounded-[3px] border border-edge"
          style={{ background: chip(sum) }}
        />
        <span className="min-w-0 grow truncate">
          {name}
          {row.mask !== null && <span className="text-hush"> · mask {figure(row.mask, 2)}</span>}
        </span>
        <Change change={row.change} />
      </button>
      {shares.length > 1 && (
        <ul className="mt-1 flex gap-1 pl-6.5" aria-label={`Strands in ${name}`}>
          {shares.map(({ id, path, share }) => (
            <li key={id} style={{ flexGrow: Math.max(0.02, share) }} className="min-w-0">
              <button
                type="button"
                title={`${id}: ${Math.round(100 * share)} %`}
                className="block w-full text-left text-[11.5px] hover:brightness-125"
                style={{ color: strandColour(id) }}
                onClick={() => send(selectionChanged(path))}
              >
                <span className="block h-1 rounded-full bg-current" />
                <span className="block truncate">
                  {id} {Math.round(100 * share)} %
                </span>
              </button>
            </li>
          ))}
        </ul>
      )}
    </li>
  );
}

/** Where the colour of a place of the finished cloth comes from, layer by layer and step by step; each leads to its bead. */
export function OriginPanel({ rect }: { rect: Rect }) {
  const send = useAppDispatch();
  const hash = useHash('cloth');
  const { settling } = usePicture();
  const reply = useLatestReply(hash ? { type: 'origin', rect } : undefined, `${hash} ${settling}`);
  const sums = (reply?.rows ?? []).map((_, i, rows) =>
    [0, 1, 2].map((p) => rows.slice(0, i + 1).reduce((all, { change }) => all + change[p], 0)),
  );
  return (
    <section
      aria-label="Colour origin"
      className="pointer-events-auto absolute top-3 right-3 max-h-[85%] w-96 overflow-y-auto rounded-lg border border-rim bg-black/85 px-3 py-2 text-[12.5px] shadow-2xl"
      onPointerDown={(event) => event.stopPropagation()}
    >
      <header className="mb-1 flex items-center justify-between gap-4">
        <span className="figures text-soft">
          {count(rect.width)} × {count(rect.height)} px at x {rect.x}, y {rect.y}
          {reply && reply.level > 0 ? ` · measured at 1:${2 ** reply.level}` : ''}
        </span>
        <IconButton label="Close (Esc)" onClick={() => send(viewChanged({ attributionRect: null, tool: null }))}>
          <X size={14} />
        </IconButton>
      </header>
      {reply ? (
        <>
          <ol>
            {reply.rows.map((row, i) => (
              <Row key={row.path} row={row} sum={sums[i]} />
            ))}
          </ol>
          <p className="flex items-center gap-2.5 border-t border-rim pt-1.5">
            <i
              aria-hidden="true"
              className="h-4 w-4 shrink-0 rounded-[3px] border border-edge"
              style={{ background: chip(reply.colour) }}
            />
            <span className="grow text-soft">Total</span>
            <Change change={reply.colour} />
          </p>
        </>
      ) : (
        <p className="py-1 text-soft">…</p>
      )}
    </section>
  );
}
