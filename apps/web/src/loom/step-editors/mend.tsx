import { Brush as BrushIcon, Undo2 } from 'lucide-react';
import type { mend } from '@owl-loom/recipe/steps/mend';
import { useAppSelector, useAppDispatch } from '../../store/store';
import { viewChanged } from '../../store/view';
import { Button, Choice, NumberField } from '../../ui/controls';
import { SliderField } from '../../ui/SliderField';
import { Section } from '../fields/Rows';
import type { PropsOf } from '../fields/step-editor';

/** Where a stroke newly made to copy takes its pixels: so many of its radii to the right. */
const BESIDE = 3;

export function MendEditor({ params, set }: PropsOf<typeof mend>) {
  const { brush, tool } = useAppSelector((state) => state.view);
  const send = useAppDispatch();
  const painting = tool === 'paint';
  const { strokes } = params;
  const last = strokes.at(-1);
  const put = (from: [number, number] | undefined): void => {
    if (!last) return;
    const { from: _, ...rest } = last;
    set('strokes', [...strokes.slice(0, -1), from ? { ...rest, from } : rest]);
  };
  return (
    <>
      <Section>
        <div className="flex items-center gap-1.5">
          <Button
            small
            look={painting ? 'lamp' : 'plain'}
            onClick={() => send(viewChanged({ tool: painting ? null : 'paint' }))}
          >
            <BrushIcon size={13} /> {painting ? 'Stop painting' : 'Paint'}
          </Button>
          <Button
            small
            look="quiet"
            disabled={strokes.length === 0}
            onClick={() => set('strokes', strokes.slice(0, -1))}
          >
            <Undo2 size={13} /> Undo last stroke
          </Button>
        </div>
        {painting && (
          <SliderField
            label="size"
            value={brush.radius}
            min={1}
            max={300}
            log
            digits={3}
            onChange={(radius) => send(viewChanged({ brush: { ...brush, radius: Math.max(1, radius) } }))}
          />
        )}
        <p className="text-[12.5px] text-hush">
          {strokes.length > 0 ? `${strokes.length} ${strokes.length > 1 ? 'strokes' : 'stroke'}. ` : ''}
          {painting
            ? 'Paint over blemishes. [ and ] change the size; hold Space to pan.'
            : 'Press Paint, then paint over blemishes.'}
        </p>
      </Section>
      {last && (
        <Section title="the last stroke">
          <Choice
            label="Fill from"
            value={last.from ? 'offset' : 'around'}
            options={[
              { value: 'around', label: 'Surroundings' },
              { value: 'offset', label: 'Copy from offset', hint: 'Copies pixels from this offset' },
            ]}
            onChange={(value) => put(value === 'offset' ? [Math.round(BESIDE * last.radius), 0] : undefined)}
          />
          {last.from && (
            <div className="grid grid-cols-2 gap-x-5">
              <NumberField
                label="Offset x"
                value={last.from[0]}
                className="[&_input]:w-20"
                onChange={(v) => put([v ?? 0, last.from?.[1] ?? 0])}
              />
              <NumberField
                label="Offset y"
                value={last.from[1]}
                className="[&_input]:w-20"
                onChange={(v) => put([last.from?.[0] ?? 0, v ?? 0])}
              />
            </div>
          )}
        </Section>
      )}
    </>
  );
}
