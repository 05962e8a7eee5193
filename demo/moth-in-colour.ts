import type { Exposure, Pass } from './expose';
import { LANTERN_MOTH } from './lantern-moth';
import type { Filter } from './passbands';
import type { DemoTarget } from './target';

/** What each channel of the colour camera gets of the two windows of its filter: hydrogen first, oxygen second. */
const RESPONSE: Record<'red' | 'green' | 'blue', readonly [number, number]> = {
  red: [1, 0.05],
  green: [0.11, 0.86],
  blue: [0.03, 0.64],
};

const SKY = { red: 0.0094, green: 0.0112, blue: 0.0098 } as const;
const GRADIENT: Record<keyof typeof RESPONSE, Exposure['gradient']> = {
  red: { gx: -0.4, gy: -0.5, bend: 0.1 },
  green: { gx: -0.5, gy: -0.6, bend: 0.15 },
  blue: { gx: -0.5, gy: -0.55, bend: 0.18 },
};

const EXPOSURE = 21_600;

const passes = ([ha, oiii]: readonly [number, number]): Pass[] => [
  { wavelength: 656, width: 7, response: ha },
  { wavelength: 501, width: 7, response: oiii },
];

const channel = (name: keyof typeof RESPONSE, i: number): Exposure => {
  const filter: Filter = {
    name,
    wavelength: name === 'red' ? 656 : 501,
    width: 7,
    exposure: EXPOSURE,
    fwhm: 3,
    sky: SKY[name],
    glow: 0.35,
  };
  return {
    filter,
    passes: passes(RESPONSE[name]),
    gradient: GRADIENT[name],
    electrons: 52_000,
    readNoise: 0.00018,
    ragged: [4, 3, 0, 6],
    seed: 3100 + 13 * i,
  };
};

/** The Lantern Moth again, through a one-shot-colour camera behind a filter with a window for hydrogen and one for oxygen: one file, three planes. */
export const MOTH_IN_COLOUR: DemoTarget = {
  ...LANTERN_MOTH,
  name: 'Lantern Moth in colour',
  folder: 'lantern-moth-in-colour',
  camera: 'Plover colour camera',
  telescope: 'Porch astrograph',
  night: '2026-04-02T21:40:00',
  lines: ['ha', 'oiii'],
  stacks: [
    { label: 'Dual', filter: 'Ha+OIII', exposures: [channel('red', 0), channel('green', 1), channel('blue', 2)] },
  ],
};
