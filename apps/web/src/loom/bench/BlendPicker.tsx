import { useRef } from 'react';
import { type BlendMode, BLENDS } from '@owl-loom/algorithms/blend/modes';
import { blendName } from '@owl-loom/recipe/names';
import { keysOf } from '@owl-loom/base/typed-keys';

const MODES = keysOf(BLENDS);
const COLUMNS = 2;

/** Steps along the list of modes by key. */
const STEPS: Readonly<Record<string, number>> = {
  ArrowUp: -COLUMNS,
  ArrowDown: COLUMNS,
  ArrowLeft: -1,
  ArrowRight: 1,
};

/**
 * The modes by which a layer is laid on. The arrow keys go through them, each seen at once; Escape gives back the one that it was when the
 * list was entered.
 * @param onEnd called when the list is left: what was tried there counts as one change
 */
export function BlendPicker({
  value,
  onChange,
  onEnd,
}: {
  value: BlendMode;
  onChange: (mode: BlendMode) => void;
  onEnd: () => void;
}) {
  const before = useRef(value);
  const list = useRef<HTMLDivElement>(null);
  const go = (mode: BlendMode): void => {
    onChange(mode);
    list.current?.querySelectorAll('button')[MODES.indexOf(mode)]?.focus();
  };
  return (
    <fieldset>
      <legend className="mb-1.5 text-soft">Blend mode</legend>
      <div
        ref={list}
        role="toolbar"
        aria-label="Blend mode"
        className="grid grid-cols-2 gap-0.5"
        onFocus={(event) => {
          if (!event.currentTarget.contains(event.relatedTarget)) before.current = value;
        }}
        onBlur={(event) => {
          if (!event.currentTarget.contains(event.relatedTarget)) onEnd();
        }}
        onKeyDown={(event) => {
          const by = STEPS[event.key];
          if (by === undefined && event.key !== 'Escape') return;
          event.preventDefault();
          event.stopPropagation();
          if (by === undefined) go(before.current);
          else go(MODES[(MODES.indexOf(value) + by + MODES.length) % MODES.length]);
        }}
      >
        {MODES.map((mode) => {
          const active = mode === value;
          return (
            <button
              key={mode}
              type="button"
              aria-pressed={active}
              tabIndex={active ? 0 : -1}
              title={BLENDS[mode].says}
              onClick={() => onChange(mode)}
              className={`rounded-md px-2.5 py-0.5 text-left ${active ? 'bg-shelf font-semibold text-lamp' : 'text-soft hover:bg-shelf/60'}`}
            >
              {blendName(mode)}
            </button>
          );
        })}
      </div>
      <p className="mt-1.5 text-[12.5px] text-hush">{BLENDS[value].says}</p>
    </fieldset>
  );
}
