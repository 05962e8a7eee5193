import { expect, it } from 'vitest';
import { totalExposures } from './exposures';

it('exposures add up by filter, in the order in which filters come, those that tell nothing apart', () => {
  expect(
    totalExposures([
      { filter: 'Ha', exposure: 600 },
      { filter: 'L' },
      { filter: 'OIII', exposure: 300 },
      { filter: 'Ha', exposure: 1200 },
    ]),
  ).toEqual([
    { filter: 'Ha', seconds: 1800 },
    { filter: 'OIII', seconds: 300 },
  ]);
});
