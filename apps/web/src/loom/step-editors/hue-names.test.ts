import { expect, it } from 'vitest';
import { hueDistance, oklchOf } from '@owl-loom/algorithms/colour/oklch';
import { srgbToLinear } from '@owl-loom/algorithms/colour/srgb';
import { hueBands } from '@owl-loom/recipe/steps/hue-bands';
import { BAND_STARTS, FAMILIES, hueName, ownBand } from '../fields/hue-names';

const hueOf = (hex: string): number =>
  oklchOf(
    [1, 3, 5].map((i) => srgbToLinear(Number.parseInt(hex.slice(i, i + 2), 16) / 255)) as [number, number, number],
  )[2];

it.each([
  ['#ff0000', 'red'],
  ['#00c000', 'green'],
  ['#0000ff', 'blue'],
  ['#00ffff', 'cyan'],
  ['#ff00ff', 'magenta'],
  ['#ffff00', 'yellow'],
  ['#ff8000', 'orange'],
])('%s is called %s', (hex, name) => expect(hueName(hueOf(hex))).toBe(name));

it('hues are called alike all the way round', () => {
  for (let hue = 0; hue < 360; hue += 7) expect(hueName(hue - 720)).toBe(hueName(hue));
});

it('families to begin with are taken by the step, and hold the hues that they speak of', () => {
  const { bands } = hueBands.params.parse({ bands: BAND_STARTS.map(({ band }) => band) });
  expect(bands).toHaveLength(BAND_STARTS.length);
  const start = (label: string) => {
    const found = BAND_STARTS.find((own) => own.label === label);
    if (!found) throw new Error(`no ${label}`);
    return found.band;
  };
  const holds = ({ centre, width }: { centre: number; width: number }, hex: string) =>
    hueDistance(centre, hueOf(hex)) <= width / 2;
  expect(holds(start('Green to gold'), '#5cb83c')).toBe(true);
  expect(holds(start('Cyan to blue'), '#2fb5c0')).toBe(true);
  expect(holds(start('Less magenta'), '#c050c0')).toBe(true);
  expect(holds(start('Richer red'), '#c83228')).toBe(true);
  // Gold is where green goes.
  const { centre, turn } = start('Green to gold');
  expect(hueName(centre + turn)).toBe('gold');
});

it('the usual families are there by their names, and change nothing', () => {
  const names = FAMILIES.map(({ centre }) => hueName(centre));
  for (const name of ['red', 'orange', 'yellow', 'green', 'cyan', 'blue', 'magenta']) expect(names).toContain(name);
  expect(new Set(names).size).toBe(names.length);
  expect(FAMILIES.every(({ turn, chroma, lightness }) => turn === 0 && chroma === 1 && lightness === 0)).toBe(true);
});

it('a family of one’s own begins where the picture has most colour', () => {
  const hues = Array.from({ length: 72 }, (_, i) => ({ share: 0.01, chroma: i >= 37 && i <= 41 ? 0.12 : 0.01 }));
  expect(hueDistance(ownBand(hues).centre, 197)).toBeLessThan(6);
  expect(ownBand(undefined)).toMatchObject({ centre: 29 });
  expect(ownBand(hues.map(() => ({ share: 0, chroma: 0 })))).toMatchObject({ centre: 29 });
});
