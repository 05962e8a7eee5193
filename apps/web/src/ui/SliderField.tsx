import { Slider as RSlider } from 'radix-ui';
import { type KeyboardEvent, type PointerEvent, useRef } from 'react';
import { NumberField } from './controls';
import { sentenceCase } from './sentence-case';

/** By how much finer a slider goes under Shift. */
const FINER = 10;

/** Steps that keys make. */
const WAYS: Readonly<Record<string, number>> = {
  ArrowLeft: -1,
  ArrowDown: -1,
  ArrowRight: 1,
  ArrowUp: 1,
  PageDown: -10,
  PageUp: 10,
};

/** Where a fine drag began: the value of the slider, and of the place under the hand. */
interface Fine {
  readonly value: number;
  readonly under: number;
}

/**
 * A slider with its number beside it. Under Shift it goes ten times finer, by hand and by arrow keys; a double press brings back what is usual.
 * @param usual what it is where nobody has set it
 */
export function SliderField({
  label,
  value,
  min,
  max,
  step,
  onChange,
  onCommit,
  digits = 4,
  log = false,
  usual,
  whole = false,
}: {
  label: string;
  value: number;
  min: number;
  max: number;
  step?: number;
  onChange: (value: number) => void;
  onCommit?: () => void;
  digits?: number;
  log?: boolean;
  usual?: number;
  /** Whether it takes whole numbers alone, of which there is nothing finer. */
  whole?: boolean;
}) {
  const to = (v: number) => (log ? Math.log(v) : v);
  const from = (v: number) => (log ? Math.exp(v) : v);
  const [least, most] = [to(min), to(max)];
  const finer = whole ? 1 : FINER;
  const grain = log ? (most - least) / 400 : (step ?? (max - min) / 200);
  const at = Math.min(most, Math.max(least, to(value)));
  const shifted = useRef(false);
  const fine = useRef<Fine>(undefined);
  const give = (v: number): void => {
    const held = Math.min(most, Math.max(least, v));
    onChange(log ? Number(from(held).toPrecision(4)) : Number(held.toFixed(8)));
  };
  /** The place under the hand has moved: as far as that, or under Shift a tenth of it from where Shift was pressed. */
  const moved = (under: number): void => {
    if (!shifted.current) {
      fine.current = undefined;
      give(under);
      return;
    }
    const start = fine.current ?? { value: at, under };
    fine.current = start;
    give(start.value + (under - start.under) / finer);
  };
  const followShift = (event: PointerEvent): void => {
    shifted.current = event.shiftKey;
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    event.stopPropagation();
    const way = WAYS[event.key];
    if (!way) return;
    event.preventDefault();
    give(at + (event.shiftKey ? (way * grain) / finer : way * grain));
    onCommit?.();
  };
  return (
    <div className="grid grid-cols-[5.2rem_1fr_5.4rem] items-center gap-3">
      <span className={`truncate text-soft ${sentenceCase(label)}`}>{label}</span>
      <RSlider.Root
        className="relative flex h-7 touch-none items-center select-none"
        min={least}
        max={most}
        // Under Shift steps are finer than those that the bar itself is cut into.
        step={grain / finer}
        value={[at]}
        onValueChange={([v]) => moved(v)}
        onValueCommit={() => onCommit?.()}
        onPointerDown={followShift}
        onPointerMove={followShift}
        onDoubleClick={() => {
          if (usual === undefined) return;
          onChange(usual);
          onCommit?.();
        }}
        onKeyDown={onKeyDown}
      >
        <RSlider.Track className="relative h-[3px] grow rounded-full bg-rim">
          <RSlider.Range className="absolute h-full rounded-full bg-soft" />
        </RSlider.Track>
        <RSlider.Thumb
          aria-label={label}
          className="block h-4 w-2.5 rounded-[3px] border border-black/40 bg-text shadow hover:bg-lamp focus-visible:bg-lamp"
        />
      </RSlider.Root>
      <NumberField
        label={label}
        hideLabel
        value={value}
        digits={digits}
        min={log ? 1e-9 : -Infinity}
        onChange={(v) => v !== undefined && onChange(v)}
        onCommit={onCommit}
        className="[&_input]:w-full"
      />
    </div>
  );
}
