import { describe, expect, it } from 'vitest';
import { formatCard, parseCards } from '../fits/cards';
import { guessExposure, guessFilter, guessWavelength, isDualBand, knownFilter } from './filter';

const cards = (key?: string, value?: string | number) =>
  key === undefined || value === undefined ? [] : parseCards(formatCard(key, value).join(''));

describe('the filter of a stack', () => {
  it.each([
    ['Ha', 'x.fits', 'Ha'],
    ['H-alpha', 'x.fits', 'Ha'],
    ['Halpha 3nm', 'moth_OIII.fits', 'OIII'],
    ['O3', 'x.fits', 'OIII'],
    ['Sulphur II', 'x.fits', 'SII'],
    ['Luminance', 'x.fits', 'L'],
    ['Clear', 'x.fits', 'L'],
    ['Glade 580', 'x.fits', 'Glade 580'],
  ])('by its card %s in %s is %s', (card, file, filter) => {
    expect(guessFilter(cards('FILTER', card), file)).toBe(filter);
  });

  it.each([
    ['lantern-moth_SII.fits', 'SII'],
    ['2026-03-14_Moth_H_alpha_300s.fits', undefined],
    ['moth Ha 300s.fits.gz', 'Ha'],
    ['master_Red.fit', 'R'],
    ['B.fits', 'B'],
    ['moth.fits', undefined],
    ['moth_Ha_starless.fits', 'Ha starless'],
    ['moth OIII (no stars).fits', 'OIII starless'],
    ['nostars_L.fits', 'L starless'],
    ['starless.fits', 'starless'],
    ['moth_R_casino_stars.fits', 'R'],
  ])('by its name %s is %s', (file, filter) => {
    expect(guessFilter([], file)).toBe(filter);
  });

  it.each([
    [undefined, 'B_colour.fits', 'colour'],
    [undefined, 'nebula.fits', 'colour'],
    ['B', 'x.fits', 'colour'],
    ['Ha', 'x.fits', 'colour'],
    ['Glade 580', 'x.fits', 'Glade 580'],
    [undefined, 'moth_dual-band.fits', 'dual band'],
    ['L', 'Moth Ha+OIII.fits', 'dual band'],
    [undefined, 'moth_colour_starless.fits', 'colour starless'],
  ])('of three planes, card %s in %s, is never one narrow filter: %s', (card, file, filter) => {
    expect(guessFilter(cards(card && 'FILTER', card), file, 3)).toBe(filter);
    if (!card || knownFilter(card)) expect(guessWavelength(filter)).toBeUndefined();
  });

  it('of a colour camera passes two lines where its words say so', () => {
    for (const name of ['dual band', 'Duo', 'Ha OIII 7nm']) expect(isDualBand(name)).toBe(true);
    for (const name of ['colour', 'L', 'residual', null]) expect(isDualBand(name)).toBe(false);
  });

  it.each<[string, Record<string, number>, number | undefined]>([
    ['moth_Ha_240x300s.fits', { EXPTIME: 300 }, 72_000],
    ['moth_Ha_240x300s.fits', {}, 72_000],
    ['moth_Ha_240x300s.fits', { EXPTIME: 72_000 }, 72_000],
    ['moth 12 x 5 min.fits', { EXPTIME: 300 }, 3600],
    ['moth 20x0.5sec.fits', {}, 10],
    ['moth.fits', { EXPTIME: 300, NCOMBINE: 48 }, 14_400],
    ['moth.fits', { EXPTIME: 14_400, NCOMBINE: 48 }, 14_400],
    ['moth.fits', { EXPTIME: 300, NCOMBINE: 1 }, 300],
    ['moth.fits', { EXPTIME: 300, NCOMBINE: 48, EXPTOTAL: 14_100 }, 14_100],
    ['moth_1800x1200.fits', { EXPTIME: 300 }, 300],
    ['moth_300s.fits', {}, undefined],
  ])('has the exposure of all frames together: %s with %o', (file, given, seconds) => {
    const all = Object.entries(given).flatMap(([key, value]) => cards(key, value));
    expect(guessExposure(all, file)).toBe(seconds);
  });

  it('has an exposure where a card gives one above 0', () => {
    expect(guessExposure(cards('EXPTIME', 300))).toBe(300);
    expect(guessExposure(cards('EXPOSURE', 12.5))).toBe(12.5);
    expect(guessExposure(cards('EXPTIME', 0))).toBeUndefined();
    expect(guessExposure([])).toBeUndefined();
  });
});

describe('the wavelength of a filter', () => {
  it.each([
    ['Ha', 656.3],
    ['OIII', 500.7],
    ['B', 450],
    ['486.1 nm', 486.1],
    ['Methane 889', 889],
    ['NII 658.4nm', 658.4],
  ])('of %s is %f', (name, nm) => expect(guessWavelength(name)).toBe(nm));
  it.each(['L', 'Moonlight', '5nm', 'UHC-2', undefined])('of %s is not told', (name) =>
    expect(guessWavelength(name)).toBeUndefined(),
  );
});
