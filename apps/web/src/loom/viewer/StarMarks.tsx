import { useMemo } from 'react';
import { matrix, type Viewport, type ViewSize } from '../../image-view/viewport';
import { count } from '../../ui/numbers';
import { useReport, useSession } from '../../session/session';
import { useRequestedMeasurement } from '../../session/use-requested-measurement';
import { useKeyedEffect } from '../../ui/use-keyed-effect';

/** Marks of stars, as one path: a ring about each, and a cross through those that are saturated. */
function ringsOf(
  stars: readonly (readonly [number, number, number, 0 | 1])[],
  viewport: Viewport,
  pane: ViewSize,
  saturated: 0 | 1,
): string {
  const [a, b, c, d, e, f] = matrix(viewport, pane);
  return stars
    .filter((star) => star[3] === saturated)
    .flatMap(([x, y, fwhm]) => {
      const [u, v] = [a * x + c * y + e, b * x + d * y + f];
      if (u < -20 || v < -20 || u > pane.width + 20 || v > pane.height + 20) return [];
      const r = Math.max(3.5, 1.3 * fwhm * viewport.zoom);
      return `M${(u - r).toFixed(1)} ${v.toFixed(1)}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0`;
    })
    .join('');
}

/** The stars that were found in the shown image. */
export function StarMarks({ path, viewport, pane }: { path: string; viewport: Viewport; pane: ViewSize }) {
  const { measureAgain } = useSession();
  const described = useReport();
  useRequestedMeasurement('marks', path);
  // Those of another image are asked for anew.
  useKeyedEffect(() => measureAgain(), [path, measureAgain]);
  const list = described?.stars[path];
  const [clear, full] = useMemo(
    () => (list ? [ringsOf(list.stars, viewport, pane, 0), ringsOf(list.stars, viewport, pane, 1)] : ['', '']),
    [list, viewport, pane],
  );
  const saturated = list?.stars.filter((star) => star[3]).length ?? 0;
  return (
    <>
      <svg className="absolute inset-0 size-full" aria-hidden>
        <path d={clear} fill="none" stroke="#f0b061" strokeOpacity={0.85} strokeWidth={1.1} />
        <path d={full} fill="none" stroke="#ff7d5e" strokeWidth={1.6} />
      </svg>
      <span
        data-testid="star-count"
        className="absolute top-12 left-3 rounded-md bg-black/75 px-3 py-1 text-[12.5px] text-soft"
      >
        {list
          ? `${count(list.count)} stars${saturated ? `, ${count(saturated)} saturated` : ''}${list.count > list.stars.length ? `; the brightest ${count(list.stars.length)} are marked` : ''}`
          : 'Detecting stars …'}
      </span>
    </>
  );
}
