import { useEffect, useRef } from 'react';
import type { Step } from '@owl-loom/recipe/schema';
import { unpackStars } from '@owl-loom/algorithms/star-removal/packed';
import type { StarRemovalParams } from '@owl-loom/recipe/steps/star-removal';
import { matrix, toPixel, type Viewport, type ViewSize } from '../../image-view/viewport';
import { valueAt } from '@owl-loom/recipe/paths';
import { useAppSelector } from '../../store/store';
import { setValue } from '../../document/edit';
import { toggleManualStar } from './manual-stars';
import { useChart } from '../../session/measured-values';

/** Circles taken by hand and stars that are spared, on the picture of a step that takes stars out: added and removed there. */
export function StarHand({ path, viewport, turned }: { path: string; viewport: Viewport; turned: ViewSize }) {
  const recipe = useAppSelector((state) => state.draft.recipe);
  const svg = useRef<SVGSVGElement>(null);
  const found = recipe ? (valueAt(recipe, path) as (Step & Partial<StarRemovalParams>) | undefined) : undefined;
  const step =
    found && typeof found === 'object' && (found.do === 'starless' || found.do === 'stars-only') ? found : undefined;
  const figure = useChart(path, 'starless');

  // The picture below takes single presses for panning.
  useEffect(() => {
    const element = svg.current?.closest<HTMLElement>('[data-testid="picture"]');
    if (!element || !step) return undefined;
    const onDouble = (event: MouseEvent): void => {
      const bounds = svg.current?.getBoundingClientRect();
      const at = toPixel(viewport, turned, event.clientX - (bounds?.left ?? 0), event.clientY - (bounds?.top ?? 0));
      setValue(path, {
        ...step,
        ...toggleManualStar(step, figure ? unpackStars(figure) : undefined, at, 6 / viewport.zoom),
      });
    };
    element.addEventListener('dblclick', onDouble);
    return () => element.removeEventListener('dblclick', onDouble);
  });

  if (!step) return null;
  return (
    <svg ref={svg} className="pointer-events-none absolute inset-0 size-full" aria-hidden>
      <g transform={`matrix(${matrix(viewport, turned).join(' ')})`} fill="none" stroke="#f0b061">
        {step.also?.map(({ x, y, radius }) => (
          <circle
            key={`${x} ${y}`}
            data-also
            cx={x}
            cy={y}
            r={radius}
            strokeWidth={1.4}
            vectorEffect="non-scaling-stroke"
          />
        ))}
        {step.spare?.map(({ x, y }) => (
          <path
            key={`${x} ${y}`}
            data-spare
            d={`M${x - 7} ${y}h4m6 0h4M${x} ${y - 7}v4m0 6v4`}
            strokeWidth={1.4}
            vectorEffect="non-scaling-stroke"
          />
        ))}
      </g>
    </svg>
  );
}
