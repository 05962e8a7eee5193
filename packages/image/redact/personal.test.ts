import { expect, it } from 'vitest';
import { isPersonal } from './personal';

it.each([
  ['OBSERVER', 'A. Lamp'],
  ['SITELAT', '+47 00 00'],
  ['SITELONG', 8.5],
  ['SITENAME', 'Behind the barn'],
  ['SITEELEV', 812],
  ['OBSGEO-B', 47.1],
  ['LAT-OBS', 47.1],
  ['LONG-OBS', 8.5],
  ['GEOLAT', 1],
  ['OBS-LONG', 1],
  ['OBSERVAT', 'Home'],
  ['HIERARCH gear SITELAT', 1],
  ['FILENAME', '/home/lamp/nights/ha_001.fits'],
  ['HISTORY', 'stacked from C:\\nights\\ha'],
  ['COMMENT', 'read ~/pictures/ha/one.fits'],
  ['COMMENT', 'from \\\\cupboard\\nights\\ha'],
  ['HISTORY', 'masters: ../masters/dark.fits'],
] as const)('%s %s says who or where', (key, value) => {
  const text = key === 'COMMENT' || key === 'HISTORY';
  expect(isPersonal(text ? { key, comment: String(value) } : { key, value })).toBe(true);
});

it.each([
  ['TELESCOP', 'Tube of six inches'],
  ['INSTRUME', 'Camera one'],
  ['OBJECT', 'Lantern Moth'],
  ['DATE-OBS', '2026-11-30T22:00:00'],
  ['BUNIT', 'ADU/s'],
  ['FOCALLEN', 800],
  ['OBSMODE', 'cooled'],
  ['SITED', 1],
  ['LATPOLE', 90],
  ['LONPOLE', 180],
  ['HISTORY', 'dark and flat taken off, 32/40 frames kept'],
  ['COMMENT', 'see https://docs.example for the form'],
  ['FILTER', 'Ha'],
] as const)('%s %s does not', (key, value) => {
  const text = key === 'COMMENT' || key === 'HISTORY';
  expect(isPersonal(text ? { key, comment: String(value) } : { key, value })).toBe(false);
});
