import { hueDistance } from '@owl-loom/algorithms/colour/oklch';

/** Lightness and chroma at which every hue can be shown. */
const LIGHT = '72%';
const CHROMA = 0.13;

/**
 * All hues from left to right, the family brightly and what lies beside it dim.
 */
export function HueStrip({ centre, width, soft }: { centre: number; width: number; soft: number }) {
  const stops = Array.from({ length: 73 }, (_, i) => {
    const hue = i * 5;
    const away = hueDistance(hue, centre) - width / 2;
    const share = Math.max(0, Math.min(1, 1 - away / Math.max(1, soft)));
    return `oklch(${LIGHT} ${CHROMA} ${hue} / ${Math.max(0.18, share).toFixed(2)})`;
  });
  return (
    <div
      aria-hidden="true"
      className="h-3 rounded-[4px] border border-edge bg-black"
      style={{ backgroundImage: `linear-gradient(to right, ${stops.join(', ')})` }}
    />
  );
}
