import type { WorkerReplies } from '../../../worker/protocol';
import { strandOwners } from '@owl-loom/recipe/walk';
import { useEffect, useMemo } from 'react';
import { useAppSelector } from '../../store/store';
import { figure } from '../../ui/numbers';
import { useStrandColours } from '../../session/strands';
import { useHashes } from '../../session/session';
import { useLatestReply } from '../../session/use-latest-reply';
import { setPointerPixel } from './pointer';

const NOTHING: WorkerReplies['probe'] = {};

/** Values under the pointer for every strand. */
export function Readout({ pointer, zoom }: { pointer: { x: number; y: number } | undefined; zoom: string }) {
  const hashes = useHashes();
  useEffect(() => setPointerPixel(pointer), [pointer]);
  const recipe = useAppSelector((state) => state.draft.recipe);
  const strandColour = useStrandColours(recipe);
  const strands = useMemo(() => (recipe ? strandOwners(recipe) : []), [recipe]);
  const paths = [...strands.map(({ path }) => path), 'cloth'].filter((path) => hashes[path]);
  const values = useLatestReply(pointer && { type: 'probe', x: pointer.x, y: pointer.y, paths }, hashes) ?? NOTHING;

  return (
    <div className="pointer-events-none absolute inset-x-3 bottom-3 flex items-end justify-between gap-3">
      {pointer ? (
        <div className="figures flex flex-wrap gap-x-4 gap-y-0.5 rounded-md bg-black/75 px-3 py-1.5">
          <span className="text-text">
            x {pointer.x} y {pointer.y}
          </span>
          {strands.map(({ id = '', path }) => {
            const found = values[path];
            return found ? (
              <span key={id} style={{ color: strandColour(id) }}>
                {id} {found.map((v) => figure(v)).join(' ')}
              </span>
            ) : null;
          })}
          {values.cloth && <span className="text-text">cloth {values.cloth.map((v) => figure(v, 3)).join(' ')}</span>}
        </div>
      ) : (
        <span />
      )}
      <div
        className="figures shrink-0 rounded-md bg-black/75 px-3 py-1.5 whitespace-nowrap text-soft"
        data-testid="zoom"
      >
        {zoom}
      </div>
    </div>
  );
}
