import { useEffect, useRef, useState } from 'react';
import type { Box } from '@owl-loom/algorithms/gradient/samples';
import { useAppSelector } from '../../store/store';
import { endGesture, setValue } from '../../document/edit';
import { matrix, toPixel, type Viewport, type ViewSize } from '../../image-view/viewport';
import { stepAt } from '@owl-loom/recipe/paths';
import { useChart } from '../../session/measured-values';

/** The sample boxes of the chosen gradient, on the picture: dragged, added and removed there. */
export function Boxes({ path, viewport, turned }: { path: string; viewport: Viewport; turned: ViewSize }) {
  const recipe = useAppSelector((state) => state.draft.recipe);
  const svg = useRef<SVGSVGElement>(null);
  const [dragged, setDragged] = useState<number>();
  const step = recipe ? stepAt(recipe, path) : undefined;
  const isGradient = step !== undefined && typeof step === 'object' && 'do' in step && step.do === 'gradient';
  const figure = useChart(path, 'gradient');
  const boxes: readonly Box[] = isGradient
    ? Array.isArray(step.samples)
      ? (step.samples as Box[])
      : (figure?.boxes ?? [])
    : [];

  const placeOf = (event: { clientX: number; clientY: number }): { x: number; y: number } => {
    const bounds = svg.current?.getBoundingClientRect();
    const { x, y } = toPixel(viewport, turned, event.clientX - (bounds?.left ?? 0), event.clientY - (bounds?.top ?? 0));
    return { x: Math.round(x), y: Math.round(y) };
  };
  const keep = (next: readonly Box[], gesture?: string): void => setValue(`${path}.samples`, next, gesture);

  // The picture below takes single presses for panning; a double one on the sky adds a box.
  useEffect(() => {
    const element = svg.current?.closest<HTMLElement>('[data-testid="picture"]');
    if (!element || !isGradient) return undefined;
    const onDouble = (event: MouseEvent): void => {
      if ((event.target as Element).closest('[data-box]')) return;
      keep([...boxes, { ...placeOf(event), size: boxes[0]?.size ?? 40 }]);
    };
    element.addEventListener('dblclick', onDouble);
    return () => element.removeEventListener('dblclick', onDouble);
  });

  if (!isGradient) return null;
  const m = matrix(viewport, turned);
  return (
    <svg
      ref={svg}
      className="pointer-events-none absolute inset-0 size-full"
      role="group"
      aria-label="Background samples"
    >
      {boxes.map((box, i) => {
        const [cx, cy] = [m[0] * box.x + m[2] * box.y + m[4], m[1] * box.x + m[3] * box.y + m[5]];
        const side = Math.max(7, box.size * viewport.zoom);
        return (
          <rect
            // biome-ignore lint/suspicious/noArrayIndexKey: a box has no name but its place in the list
            key={i}
            data-box={i}
            role="button"
            aria-label={`Sample ${i + 1}`}
            x={cx - side / 2}
            y={cy - side / 2}
            width={side}
            height={side}
            className="pointer-events-auto cursor-move"
            fill={dragged === i ? 'rgba(240,176,97,0.35)' : 'rgba(240,176,97,0.12)'}
            stroke="#f0b061"
            strokeWidth={1.2}
            onPointerDown={(event) => {
              event.stopPropagation();
              event.currentTarget.setPointerCapture(event.pointerId);
              setDragged(i);
            }}
            onPointerMove={(event) => {
              if (dragged !== i) return;
              event.stopPropagation();
              keep(
                boxes.map((other, k) => (k === i ? { ...other, ...placeOf(event) } : other)),
                'samples',
              );
            }}
            onPointerUp={(event) => {
              event.stopPropagation();
              setDragged(undefined);
              endGesture();
            }}
            onDoubleClick={(event) => {
              event.stopPropagation();
              keep(boxes.toSpliced(i, 1));
            }}
          />
        );
      })}
    </svg>
  );
}
