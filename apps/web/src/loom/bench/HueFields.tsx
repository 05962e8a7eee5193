import { Pipette } from 'lucide-react';
import { hueRange } from '@owl-loom/recipe/mask-schema';
import type { Mask } from '@owl-loom/recipe/schema';
import { useAppSelector, useAppDispatch } from '../../store/store';
import { viewChanged } from '../../store/view';
import { Button } from '../../ui/controls';
import { SliderField } from '../../ui/SliderField';
import { setValue, endGesture } from '../../document/edit';
import { HueStrip } from '../fields/HueStrip';

/** Which family of hues a mask shows: touched on the picture, or by its angles. */
export function HueFields({ path, hue }: { path: string; hue: NonNullable<Mask['hue']> }) {
  const touching = useAppSelector((state) => state.view.tool === 'hue');
  const send = useAppDispatch();
  const { centre, width, soft, chroma } = hueRange.parse(hue);
  const field = (key: string, value: number, max: number, label: string, digits = 3, most = max) => (
    <SliderField
      label={label}
      value={value}
      min={0}
      max={max}
      digits={digits}
      onChange={(next) => setValue(`${path}.${key}`, Math.max(0, Math.min(most, next)), key)}
      onCommit={endGesture}
    />
  );
  return (
    <div className="space-y-2">
      <div className="flex items-center justify-between gap-3">
        <span className="text-soft">hue</span>
        <Button
          small
          look={touching ? 'lamp' : 'plain'}
          onClick={() => send(viewChanged({ tool: touching ? null : 'hue' }))}
        >
          <Pipette size={13} /> {touching ? 'Click the picture …' : 'Pick from the picture'}
        </Button>
      </div>
      <HueStrip centre={centre} width={width} soft={soft} />
      {field('centre', ((centre % 360) + 360) % 360, 360, 'centre')}
      {field('width', width, 180, 'width', 3, 360)}
      {field('soft', soft, 90, 'feather', 3, 180)}
      {field('chroma', chroma, 0.3, 'chroma', 2, 1)}
    </div>
  );
}
