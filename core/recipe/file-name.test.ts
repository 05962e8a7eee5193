import { expect, it } from 'vitest';
import { fileNameOf } from './file-name';

const values = {
  recipe: 'Copper & teal',
  target: 'Lantern Moth',
  what: '',
  state: '7',
  width: '1800',
  date: '2026-11-27',
  format: 'tif',
};

it('a file is called by its pattern, and by its recipe where nothing is said', () => {
  expect(fileNameOf(undefined, values)).toBe('copper-teal-r7.tif');
  expect(fileNameOf(undefined, { ...values, what: 'Ha' })).toBe('copper-teal-ha-r7.tif');
  expect(fileNameOf('{target} {recipe} {width}px {date}', values)).toBe(
    'lantern-moth-copper-teal-1800px-2026-11-27.tif',
  );
});

it('what cannot stand in a name, or is nothing, does no harm', () => {
  expect(fileNameOf('../{recipe}/{nobody}', values)).toBe('copper-teal-nobody.tif');
  expect(fileNameOf('///', values)).toBe('cloth.tif');
  expect(fileNameOf('{recipe}', { ...values, recipe: 'Éclat 銀河 Ночь' })).toBe('eclat-銀河-ночь.tif');
  expect(fileNameOf('{recipe}', { ...values, recipe: 'x'.repeat(300) })).toHaveLength(74);
});
