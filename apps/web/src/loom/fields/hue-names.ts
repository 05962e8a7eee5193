import { hueDistance } from '@owl-loom/algorithms/colour/oklch';
import type { HueBand } from '@owl-loom/engine/steps/hue-bands';

/** Hues by the names that people give them, degrees of OKLCh. */
const NAMES: readonly (readonly [hue: number, name: string])[] = [
  [10, 'rose'],
  [29, 'red'],
  [55, 'orange'],
  [85, 'gold'],
  [108, 'yellow'],
  [142, 'green'],
  [170, 'sea green'],
  [195, 'cyan'],
  [235, 'sky blue'],
  [264, 'blue'],
  [295, 'violet'],
  [328, 'magenta'],
];

/** The name of the hue nearest to an angle. */
export const hueName = (hue: number): string =>
  NAMES.reduce((best, own) => (hueDistance(own[0], hue) < hueDistance(best[0], hue) ? own : best))[1];

/** A family to begin with. */
export interface BandStart {
  readonly label: string;
  readonly says: string;
  readonly band: HueBand;
}

const PLAIN = { turn: 0, chroma: 1, lightness: 0, shift: [0, 0, 0] as [number, number, number] };

/** What people want most often, ready to be changed. */
export const BAND_STARTS: readonly BandStart[] = [
  {
    label: 'Green to gold',
    says: 'turns narrowband green to gold; teal and red stay',
    band: { ...PLAIN, centre: 135, width: 50, soft: 30, turn: -50 },
  },
  {
    label: 'Cyan to blue',
    says: 'oxygen goes deeper into blue',
    band: { ...PLAIN, centre: 195, width: 60, soft: 30, turn: 40 },
  },
  {
    label: 'Less magenta',
    says: 'removes purple star halos',
    band: { ...PLAIN, centre: 325, width: 60, soft: 30, chroma: 0.2 },
  },
  {
    label: 'Richer red',
    says: 'hydrogen glows a little more',
    band: { ...PLAIN, centre: 27, width: 40, soft: 25, chroma: 1.3 },
  },
];

/** The usual families, which change nothing yet. */
export const FAMILIES: readonly HueBand[] = [29, 55, 85, 108, 142, 195, 264, 295, 328].map((centre) => ({
  ...PLAIN,
  centre,
  width: 40,
  soft: 25,
}));

/**
 * A family of one's own: its middle lies where the picture has most colour, the chroma of neighbouring hues summed, near ones more.
 * @param hues share and mean chroma, all round in equal steps; where there are none, as those of a grey picture, it begins at red
 */
export function ownBand(hues: readonly { readonly share: number; readonly chroma: number }[] | undefined): HueBand {
  const made = { ...PLAIN, centre: 29, width: 50, soft: 30 };
  if (!hues || hues.length === 0) return made;
  const step = 360 / hues.length;
  const near = Math.round(made.width / 2 / step);
  const colour = hues.map((_, i) => {
    let sum = 0;
    for (let k = -near; k <= near; k++) {
      const { share, chroma } = hues[(i + k + hues.length) % hues.length];
      sum += (near + 1 - Math.abs(k)) * share * chroma;
    }
    return sum;
  });
  const best = colour.indexOf(Math.max(...colour));
  return colour[best] > 0 ? { ...made, centre: Math.round((best + 0.5) * step) % 360 } : made;
}
