import { expect, it } from 'vitest';
import { fileNameFromPattern } from './file-name';

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
  expect(fileNameFromPattern(undefined, values)).toBe('copper-teal-r7.tif');
  expect(fileNameFromPattern(undefined, { ...values, what: 'Ha' })).toBe('copper-teal-ha-r7.tif');
  expect(fileNameFromPattern('{target} {recipe} {width}px {date}', values)).toBe(
    'lantern-moth-copper-teal-1800px-2026-11-27.tif',
  );
});

it('what cannot stand in a name, or is nothing, does no harm', () => {
  expect(fileNameFromPattern('../{recipe}/{nobody}', values)).toBe('copper-teal-nobody.tif');
  expect(fileNameFromPattern('///', values)).toBe('cloth.tif');
  expect(fileNameFromPattern('{recipe}', { ...values, recipe: 'Éclat 銀河 Ночь' })).toBe('eclat-銀河-ночь.tif');
  expect(fileNameFromPattern('{recipe}', { ...values, recipe: 'x'.repeat(300) })).toHaveLength(74);
});
