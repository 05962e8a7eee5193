import { expect, it } from 'vitest';
import { Pace } from './sign-in-pace';

it('lets a few tries go free, then asks for pauses that grow, up to a minute', () => {
  const pace = new Pace();
  let now = 1_000_000;
  const pauses: number[] = [];
  for (let i = 0; i < 12; i++) {
    const pause = pace.pause('here', now);
    pauses.push(pause);
    now += pause;
    expect(pace.pause('here', now)).toBe(0);
    pace.tried('here', now);
  }
  expect(pauses).toEqual([0, 0, 0, 1000, 2000, 4000, 8000, 16_000, 32_000, 60_000, 60_000, 60_000]);
});

it('keeps nobody out for what others try, and forgets', () => {
  const pace = new Pace();
  const now = 1_000_000;
  for (let i = 0; i < 1000; i++) pace.tried('there', now);
  expect(pace.pause('there', now)).toBe(60_000);
  expect(pace.pause('here', now)).toBe(0);
  expect(pace.pause('there', now + 3_600_000)).toBe(0);
  pace.right('there');
  expect(pace.pause('there', now)).toBe(0);
});

it('remembers no more places than it has room for, the latest ones', () => {
  const pace = new Pace();
  for (let i = 0; i < 4; i++) pace.tried('busy', 1);
  for (let i = 0; i < 9_999; i++) pace.tried(`place ${i}`, 2);
  expect(pace.pause('busy', 2)).toBeGreaterThan(0);
  for (let i = 0; i < 4; i++) pace.tried('place 1', 3);
  pace.tried('one more', 3);
  expect(pace.pause('busy', 3)).toBe(0);
  expect(pace.pause('place 1', 3)).toBeGreaterThan(0);
});
