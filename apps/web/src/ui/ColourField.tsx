import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from 'react';
import { colourTyped, hexFrom, type Lch, lchOf, mostChroma } from '@owl-loom/algorithms/colour/chosen';
import { SliderField } from './SliderField';
import { sentenceCase } from './sentence-case';

/** Cells of the field of hues, across and up: finer than the eye tells at its size. */
const [ACROSS, UP] = [90, 24];
/** What arrow keys move by: degrees of hue, and share of the chroma that can be shown. */
const [HUE_STEP, SHARE_STEP] = [3, 0.04];

/** Draws all hues across and their chroma upwards, from grey to the most that can be shown, at one lightness. */
function drawHues(canvas: HTMLCanvasElement, lightness: number): void {
  const context = canvas.getContext('2d');
  for (let x = 0; context && x < ACROSS; x++) {
    const hue = (360 * (x + 0.5)) / ACROSS;
    const max = mostChroma(lightness, hue);
    for (let y = 0; y < UP; y++) {
      context.fillStyle = hexFrom([lightness, (max * (y + 0.5)) / UP, hue]);
      context.fillRect(x, UP - 1 - y, 1, 1);
    }
  }
}

/** Hue and chroma on one field, by hand or by arrow keys. */
function HueField({
  value: [l, c, h],
  onChange,
  onEnd,
}: {
  value: Lch;
  onChange: (lch: Lch) => void;
  onEnd: () => void;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    if (canvas.current) drawHues(canvas.current, l);
  }, [l]);
  const max = mostChroma(l, h);
  const share = max > 0 ? Math.min(1, c / max) : 0;
  const go = (hue: number, part: number): void => {
    const held = Math.min(359.99, Math.max(0, hue));
    onChange([l, mostChroma(l, held) * Math.min(1, Math.max(0, part)), held]);
  };
  const follow = (event: PointerEvent<HTMLDivElement>): void => {
    const box = event.currentTarget.getBoundingClientRect();
    go((360 * (event.clientX - box.left)) / box.width, 1 - (event.clientY - box.top) / box.height);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const [dx, dy] = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key] ?? [
      0, 0,
    ];
    if (dx === 0 && dy === 0) return;
    event.preventDefault();
    event.stopPropagation();
    go((h + dx * HUE_STEP + 360) % 360, share + dy * SHARE_STEP);
    onEnd();
  };
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label="hue and chroma"
      aria-valuenow={Math.round(h)}
      aria-valuemin={0}
      aria-valuemax={359}
      aria-valuetext={`hue ${Math.round(h)}°, chroma ${c.toFixed(3)}`}
      title="Hue across, chroma upwards; arrow keys move both."
      className="relative h-22 cursor-crosshair touch-none rounded-md border border-edge"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        follow(event);
      }}
      onPointerMove={(event) => event.buttons > 0 && follow(event)}
      onPointerUp={onEnd}
      onKeyDown={onKeyDown}
    >
      <canvas ref={canvas} width={ACROSS} height={UP} className="size-full rounded-md" />
      <span
        className="pointer-events-none absolute h-4 w-2.5 -translate-x-1/2 translate-y-1/2 rounded-[3px] border-2 border-white shadow-[0_0_0_1px_#000]"
        style={{ left: `${(100 * h) / 360}%`, bottom: `${100 * share}%` }}
      />
    </div>
  );
}

/** A colour: typed, or chosen by hue, chroma and lightness; what it comes to is seen beside it. */
export function ColourField({
  label = 'colour',
  value,
  onChange,
  onEnd,
}: {
  label?: string;
  /** `#rrggbb`. */
  value: string;
  onChange: (hex: string) => void;
  /** A gesture has ended. */
  onEnd: () => void;
}) {
  const [typed, setTyped] = useState<string>();
  // A byte a plane tells hue and chroma of dark and dull colours roughly: what was chosen stays as it was chosen.
  const chosen = useRef<{ hex: string; lch: Lch }>(undefined);
  const lch = chosen.current?.hex === value ? chosen.current.lch : lchOf(value);
  const choose = (next: Lch): void => {
    const hex = hexFrom(next);
    chosen.current = { hex, lch: next };
    onChange(hex);
  };
  const wrong = typed !== undefined && colourTyped(typed) === undefined;
  return (
    <div className="flex flex-col gap-2">
      <label className="flex items-center gap-3">
        <span className={`grow text-soft ${sentenceCase(label)}`}>{label}</span>
        <span aria-hidden="true" className="h-7 w-10 rounded-md border border-edge" style={{ background: value }} />
        <input
          aria-label={label}
          aria-invalid={wrong}
          spellCheck={false}
          value={typed ?? value}
          onFocus={(event) => {
            setTyped(value);
            event.target.select();
          }}
          onChange={({ target }) => {
            setTyped(target.value);
            const hex = colourTyped(target.value);
            if (hex) onChange(hex);
          }}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === 'Enter') event.currentTarget.blur();
          }}
          onBlur={() => {
            setTyped(undefined);
            onEnd();
          }}
          className={`figures h-7 w-28 rounded-md border bg-pit px-2 ${wrong ? 'border-ember' : 'border-edge'}`}
        />
      </label>
      {wrong && <p className="text-[12.5px] text-ember">Type #rrggbb, or red, green and blue of 0 to 255.</p>}
      <HueField value={lch} onChange={choose} onEnd={onEnd} />
      <SliderField
        label="lightness"
        value={lch[0]}
        min={0}
        max={1}
        digits={3}
        onChange={(l) => choose([Math.min(1, Math.max(0, l)), lch[1], lch[2]])}
        onCommit={onEnd}
      />
    </div>
  );
}
