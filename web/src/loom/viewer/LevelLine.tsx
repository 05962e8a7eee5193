import { useEffect, useRef } from 'react';
import type { Spot } from '../../stage/Stage';
import { valueAt } from '../../store/paths';
import { useApp, useSend } from '../../store/store';
import { looked } from '../../store/view';
import { numberOf } from '../bench/editor';
import { setValue } from '../edit';
import { levelled } from './levelled';

/** A line along something that should lie level or upright; when it is let go, the chosen `place` step, or the cloth, is turned so that it does. */
export function LevelLine({ path, from, to }: { path: string; from: Spot | undefined; to: Spot | undefined }) {
  const recipe = useApp((state) => state.draft.recipe);
  const send = useSend();
  const drawn = useRef<{ from: Spot; to: Spot }>(undefined);

  useEffect(() => {
    if (from && to) drawn.current = { from, to };
    else if (drawn.current && recipe) {
      const { from: a, to: b } = drawn.current;
      drawn.current = undefined;
      const at = path === 'cloth' ? 'cloth.orient.degrees' : `${path}.degrees`;
      const [dx, dy] = [b.sx - a.sx, a.sy - b.sy];
      if (Math.hypot(dx, dy) > 8) setValue(at, levelled(numberOf(valueAt(recipe, at)) ?? 0, dx, dy));
      send(looked({ tool: null }));
    }
  }, [from, to, recipe, path, send]);

  if (!from || !to) return <span className="absolute top-12 left-3 rounded-md bg-black/75 px-3 py-1 text-[12.5px] text-lamp">Drag a line along what should be level or upright.</span>;
  return (
    <svg className="absolute inset-0 size-full" aria-hidden>
      <line x1={from.sx} y1={from.sy} x2={to.sx} y2={to.sy} stroke="#000" strokeOpacity={0.6} strokeWidth={4} />
      <line x1={from.sx} y1={from.sy} x2={to.sx} y2={to.sy} stroke="#f0b061" strokeWidth={1.6} />
    </svg>
  );
}
