import { type KeyboardEvent, type PointerEvent, useMemo, useRef, useState } from 'react';
import { type ColourHistogram, HUE_STEP } from '@owl-loom/algorithms/colour/colour-histogram';
import type { HueBand } from '@owl-loom/engine/steps/hue-bands';
import { type Grip, nudged, onCircle, pulled, ringPart, shareHeld } from './hue-ring';
import { hueName } from './hue-names';

/** Places on the ring, in the chart's own units. */
const SIDE = 300;
const MIDDLE = SIDE / 2;
const BARS = [46, 104] as const;
const HUES = [108, 119] as const;
const CHOSEN = [124, 134] as const;
const OTHERS = [124, 128] as const;
const GRIPS = 129;
const STEPS = Array.from({ length: 360 / HUE_STEP }, (_, i) => i * HUE_STEP);

const GRIP_NAMES: Readonly<Record<Grip, string>> = {
  centre: 'centre on the ring',
  width: 'width on the ring',
  soft: 'feather on the ring',
  turn: 'hue shift on the ring',
};

/** A family's arc: solid where it counts fully, fainter where it falls off. */
function Arc({ band, radii, strength }: { band: HueBand; radii: readonly [number, number]; strength: number }) {
  const { centre, width, soft } = band;
  const colour = `oklch(78% 0.12 ${centre})`;
  const from = centre - width / 2;
  const falls = Math.min(soft, 180 - width / 2);
  return (
    <g fill={colour} opacity={band.off ? 0.3 : strength}>
      <path d={ringPart(MIDDLE, radii, from, width)} />
      {falls > 0 && (
        <g opacity={0.4}>
          <path d={ringPart(MIDDLE, radii, from - falls, falls)} />
          <path d={ringPart(MIDDLE, radii, from + width, falls)} />
        </g>
      )}
    </g>
  );
}

/**
 * All hues in a ring, within it how much of the picture has each and how colourful that is, about it the families. The chosen one is pulled by
 * its middle, its ends, where it falls to nothing, and where it is turned to.
 */
export function HueRing({
  bands,
  at,
  colours,
  onChoose,
  onChange,
  onEnd,
}: {
  bands: readonly HueBand[];
  at: number;
  colours: ColourHistogram | undefined;
  onChoose: (at: number) => void;
  onChange: (changes: Partial<HueBand>) => void;
  onEnd: () => void;
}) {
  const svg = useRef<SVGSVGElement>(null);
  const [held, setHeld] = useState<{ grip: Grip; from: number; band: HueBand }>();
  const band = bands[at];
  const bars = useMemo(() => {
    const max = Math.max(1e-9, ...(colours?.hues ?? []).map(({ share }) => Math.sqrt(share)));
    return (colours?.hues ?? []).map(({ share, chroma }, i) => ({
      from: i * HUE_STEP,
      length: (Math.sqrt(share) / max) * (BARS[1] - BARS[0]),
      colour: `oklch(70% ${Math.min(0.2, Math.max(0.05, chroma)).toFixed(3)} ${(i + 0.5) * HUE_STEP})`,
    }));
  }, [colours]);

  const hueAt = (event: PointerEvent): number => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return 0;
    const [dx, dy] = [event.clientX - box.left - box.width / 2, event.clientY - box.top - box.height / 2];
    return (Math.atan2(-dy, dx) * 180) / Math.PI;
  };
  const take = (grip: Grip) => (event: PointerEvent<SVGElement>) => {
    event.stopPropagation();
    svg.current?.setPointerCapture(event.pointerId);
    setHeld({ grip, from: hueAt(event), band });
  };
  const keyed = (grip: Grip) => (event: KeyboardEvent) => {
    const way = { ArrowLeft: 1, ArrowUp: 1, ArrowRight: -1, ArrowDown: -1 }[event.key];
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    onChange(nudged(band, grip, way * (event.shiftKey ? 0.5 : 2)));
    onEnd();
  };
  const slider = (grip: Grip) => ({
    role: 'slider',
    tabIndex: 0,
    'aria-label': GRIP_NAMES[grip],
    'aria-valuenow': band[grip],
    className: 'cursor-grab focus:outline-none focus-visible:[&_.mark]:fill-lamp',
    onPointerDown: take(grip),
    onKeyDown: keyed(grip),
  });
  /** The two places of a grip that lies on either side. */
  const sides = (away: number) => [
    { side: 'before', degrees: band.centre - away },
    { side: 'after', degrees: band.centre + away },
  ];

  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${SIDE} ${SIDE}`}
      className="mx-auto block w-full max-w-64 touch-none rounded-lg border border-edge bg-pit"
      role="group"
      aria-label="Hues of the picture"
      onPointerMove={(event) => {
        if (held) onChange(pulled(held.band, held.grip, hueAt(event), held.from));
      }}
      onPointerUp={() => {
        if (held) onEnd();
        setHeld(undefined);
      }}
    >
      {STEPS.map((from) => (
        <path
          key={from}
          d={ringPart(MIDDLE, HUES, from, HUE_STEP + 0.3)}
          fill={`oklch(72% 0.13 ${from + HUE_STEP / 2})`}
        />
      ))}
      <circle cx={MIDDLE} cy={MIDDLE} r={BARS[0]} fill="none" stroke="var(--color-edge)" />
      {bars.map(({ from, length, colour }) => (
        <path key={from} d={ringPart(MIDDLE, [BARS[0], BARS[0] + length], from, HUE_STEP)} fill={colour} />
      ))}
      {bands.map(
        (own, i) =>
          i !== at && (
            // biome-ignore lint/suspicious/noArrayIndexKey: a family has no name of its own
            <g key={i} className="cursor-pointer" onPointerDown={() => onChoose(i)}>
              <Arc band={own} radii={OTHERS} strength={0.75} />
            </g>
          ),
      )}
      {band && (
        <>
          <g {...slider('centre')}>
            <Arc band={band} radii={CHOSEN} strength={1} />
            <path
              className="mark"
              d={ringPart(MIDDLE, [CHOSEN[0] - 2, CHOSEN[1] + 2], band.centre - 0.9, 1.8)}
              fill="var(--color-text)"
            />
          </g>
          <g {...slider('soft')}>
            {sides(band.width / 2 + band.soft).map(({ side, degrees }) => {
              const [x, y] = onCircle(MIDDLE, GRIPS, degrees);
              return (
                <g key={side} transform={`translate(${x} ${y}) rotate(${45 - degrees})`}>
                  <rect x={-10} y={-10} width={20} height={20} fillOpacity={0} />
                  <rect className="mark" x={-3.5} y={-3.5} width={7} height={7} fill="var(--color-soft)" />
                </g>
              );
            })}
          </g>
          <g {...slider('width')}>
            {sides(band.width / 2).map(({ side, degrees }) => {
              const [x, y] = onCircle(MIDDLE, GRIPS, degrees);
              return (
                <g key={side} transform={`translate(${x} ${y}) rotate(${-degrees})`}>
                  <rect x={-11} y={-8} width={22} height={16} fillOpacity={0} />
                  <rect className="mark" x={-8} y={-2} width={16} height={4} rx={1} fill="var(--color-text)" />
                </g>
              );
            })}
          </g>
          {band.turn !== 0 && (
            <path
              d={ringPart(
                MIDDLE,
                [112.5, 114.5],
                band.turn > 0 ? band.centre : band.centre + band.turn,
                Math.abs(band.turn),
              )}
              fill="black"
            />
          )}
          <g {...slider('turn')}>
            {[onCircle(MIDDLE, 113.5, band.centre + band.turn)].map(([x, y]) => (
              <g key="turned" transform={`translate(${x} ${y}) rotate(45)`}>
                <rect x={-11} y={-11} width={22} height={22} fillOpacity={0} />
                <rect
                  className="mark"
                  x={-5}
                  y={-5}
                  width={10}
                  height={10}
                  rx={1.5}
                  fill={`oklch(72% 0.13 ${band.centre + band.turn})`}
                  stroke="black"
                  strokeWidth={1.6}
                />
              </g>
            ))}
          </g>
          <text x={MIDDLE} y={MIDDLE - 6} textAnchor="middle" className="fill-text text-[15px]">
            {hueName(band.centre)}
          </text>
          {colours && (
            <text x={MIDDLE} y={MIDDLE + 13} textAnchor="middle" className="figures fill-soft">
              {(100 * shareHeld(band, colours)).toFixed(1)} %
            </text>
          )}
          {colours && (
            <text x={MIDDLE} y={MIDDLE + 28} textAnchor="middle" className="fill-hush text-[11px]">
              in view
            </text>
          )}
        </>
      )}
    </svg>
  );
}
