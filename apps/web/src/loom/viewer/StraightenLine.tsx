import type { Spot } from '../../image-view/ImageView';

/** The line that is drawn along something that should lie level or upright, or the word to draw it. */
export function LevelLine({ from, to }: { from: Spot | undefined; to: Spot | undefined }) {
  if (!from || !to)
    return (
      <span className="absolute top-12 left-3 rounded-md bg-black/75 px-3 py-1 text-[12.5px] text-lamp">
        Drag a line along an edge that should be horizontal or vertical.
      </span>
    );
  return (
    <svg className="absolute inset-0 size-full" aria-hidden>
      <line x1={from.sx} y1={from.sy} x2={to.sx} y2={to.sy} stroke="#000" strokeOpacity={0.6} strokeWidth={4} />
      <line x1={from.sx} y1={from.sy} x2={to.sx} y2={to.sy} stroke="#f0b061" strokeWidth={1.6} />
    </svg>
  );
}
