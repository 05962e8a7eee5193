import { freemem, totalmem } from 'node:os';
import { afterEach, expect, it, vi } from 'vitest';
import { freeMemory, totalMemory } from './memory';

afterEach(() => vi.restoreAllMocks());

it.each([
  ['a container is given less', 2 ** 29, 2 ** 29],
  ['nothing is said', 0, totalmem()],
  ['there is no limit', 2 ** 64, totalmem()],
])('the memory that is there, where %s', (_, limit, there) => {
  vi.spyOn(process, 'constrainedMemory').mockReturnValue(limit);
  expect(totalMemory()).toBe(there);
});

it('what is left is no more than a container has left', () => {
  vi.spyOn(process, 'availableMemory').mockReturnValue(1000);
  expect(freeMemory()).toBe(1000);
  vi.spyOn(process, 'availableMemory').mockReturnValue(2 ** 60);
  expect(freeMemory() / freemem()).toBeCloseTo(1, 1);
});
