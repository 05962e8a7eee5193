import { Brush as BrushIcon, Undo2 } from 'lucide-react';
import type { Recipe } from '../../../../core/recipe/schema';
import type { Owner } from '../../../../core/recipe/walk';
import { looked, type Brush } from '../../store/view';
import { useApp, useSend } from '../../store/store';
import { Button, Choice, SliderField } from '../../ui/controls';
import { setValue } from '../edit';
import { paintOf } from '../viewer/painting';
import { Section } from './Rows';

/** Painting on a mask: the brush, and what lies on the mask already. */
export function PaintSection({ owner, recipe }: { owner: Owner; recipe: Recipe }) {
  const { brush, tool } = useApp((state) => state.view);
  const send = useSend();
  const paint = paintOf(recipe, owner);
  const painting = tool === 'paint';
  const set = (change: Partial<Brush>) => send(looked({ brush: { ...brush, ...change } }));
  const put = (list: readonly unknown[]) => setValue(`${owner.path}.paint`, list.length > 0 ? list : undefined);
  return (
    <Section title="paint">
      <div className="flex items-center gap-1.5">
        <Button
          small
          look={painting ? 'lamp' : 'plain'}
          onClick={() => send(looked({ tool: painting ? null : 'paint' }))}
        >
          <BrushIcon size={13} /> {painting ? 'Put the brush down' : 'Paint on the picture'}
        </Button>
        <Button small look="quiet" disabled={paint.length === 0} onClick={() => put(paint.slice(0, -1))}>
          <Undo2 size={13} /> last
        </Button>
      </div>
      {painting && (
        <>
          <Choice
            label="brush"
            value={brush.mode}
            options={[
              { value: 'reveal', label: 'reveals' },
              { value: 'hide', label: 'hides' },
            ]}
            onChange={(mode) => set({ mode })}
          />
          <SliderField
            label="size"
            value={brush.radius}
            min={1}
            max={600}
            log
            digits={3}
            onChange={(radius) => set({ radius: Math.max(1, radius) })}
          />
          <SliderField
            label="soft"
            value={brush.soft}
            min={0}
            max={600}
            digits={3}
            onChange={(soft) => set({ soft: Math.max(0, soft) })}
          />
          <SliderField
            label="strength"
            value={brush.strength}
            min={0.02}
            max={1}
            digits={2}
            onChange={(strength) => set({ strength: Math.min(1, Math.max(0.01, strength)) })}
          />
        </>
      )}
      <p className="text-[12.5px] text-hush">
        {paint.length > 0
          ? `${paint.length} ${paint.length > 1 ? 'strokes and shapes lie' : 'stroke or shape lies'} on it. `
          : 'Nothing is painted on it yet. '}
        {painting && 'Keys [ and ] change the size, the space bar held down moves the picture.'}
      </p>
    </Section>
  );
}
