import type { Rect } from '@owl-loom/image/geometry/rect';
import { Choice, NumberField } from '../../ui/controls';
import { SliderField } from '../../ui/SliderField';
import { count } from '../../ui/numbers';
import { Pick } from '../../ui/Select';
import { TextField } from '../../ui/TextField';
import { type Middle, type Size, troubleWith, WIDTHS } from './part';
import { PartPreview } from './PartPreview';
import { PROPORTIONS, type Settings } from './settings';
import type { Finished } from './use-finished';
import { keysOf } from '@owl-loom/base/typed-keys';

/** Which part of the picture is written, and in which size. */
/** How large a file is made, as settings have it, and as people read it. */
const SIZES: { readonly value: Settings['size']; readonly label: string }[] = [
  { value: 'as it is', label: 'Original' },
  { value: 'per cent', label: 'Percent' },
  { value: 'pixels', label: 'Pixels' },
];

export function PartFields({
  finished,
  settings,
  put,
  part,
  setMiddle,
  setFrame,
  sizes,
}: {
  finished: Finished;
  settings: Settings;
  put: (change: Partial<Settings>) => void;
  part: Rect | undefined;
  setMiddle: (middle: Middle) => void;
  setFrame: (frame: Rect) => void;
  /** In which it is written. */
  sizes: readonly (Size & { readonly asked?: number })[];
}) {
  return (
    <div className="space-y-3">
      <PartPreview
        finished={finished}
        part={part}
        onMiddle={settings.part === 'print' ? setMiddle : undefined}
        onFrame={settings.part === 'frame' ? setFrame : undefined}
      />
      <Choice
        label="Area"
        value={settings.part}
        options={[
          { value: 'whole', label: 'Full picture' },
          {
            value: 'print',
            label: 'Print format',
            hint: 'A part with the aspect ratio of a print; drag it into place',
          },
          { value: 'frame', label: 'Custom crop', hint: 'Draw it on the picture.' },
        ]}
        onChange={(value) => put({ part: value })}
      />
      {settings.part === 'print' && (
        <div className="flex items-center justify-between gap-3">
          <Pick
            label="Aspect ratio"
            value={settings.proportion}
            options={keysOf(PROPORTIONS).map((value) => ({ value, label: value }))}
            onChange={(proportion) => put({ proportion })}
          />
          <Choice
            hideLabel
            label="Orientation"
            value={settings.upright ? 'upright' : 'across'}
            options={[
              { value: 'across', label: 'Landscape' },
              { value: 'upright', label: 'Portrait' },
            ]}
            onChange={(value) => put({ upright: value === 'upright' })}
          />
        </div>
      )}
      {settings.part === 'frame' && part && (
        <div className="grid grid-cols-2 gap-x-5 gap-y-1.5">
          {(['x', 'y', 'width', 'height'] as const).map((key) => (
            <NumberField
              key={key}
              label={key}
              value={part[key]}
              min={0}
              onChange={(value) => setFrame({ ...part, [key]: Math.round(value ?? 0) })}
              className="[&_input]:w-20"
            />
          ))}
        </div>
      )}
      <Choice label="size" value={settings.size} options={SIZES} onChange={(size) => put({ size })} />
      {settings.size === 'per cent' && (
        <SliderField
          label="Percent"
          value={settings.percent}
          min={5}
          max={200}
          step={1}
          digits={3}
          onChange={(value) => put({ percent: Math.min(400, Math.max(1, value)) })}
        />
      )}
      {settings.size === 'pixels' && (
        <NumberField
          label="Width, px"
          value={settings.width}
          min={WIDTHS.least}
          max={WIDTHS.most}
          onChange={(value) => put({ width: Math.round(value ?? 2048) })}
        />
      )}
      <TextField
        label="More widths, px"
        value={settings.also}
        trouble={troubleWith(settings.also)}
        placeholder="1920, 800"
        inputMode="numeric"
        maxLength={100}
        onChange={(event) => put({ also: event.target.value })}
      />
      <ul className="figures text-soft" data-testid="written-size">
        {sizes.map(({ width, height }) => (
          <li key={width}>
            {count(width)} × {count(height)} px
          </li>
        ))}
      </ul>
      {sizes.some(({ asked }) => asked !== undefined) && finished.stretched && (
        <p className="text-[12.5px] text-ember">Resizing stretched data dims small stars slightly.</p>
      )}
    </div>
  );
}
