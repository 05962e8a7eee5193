import { expect, it } from 'vitest';
import { IntegrityCheckMemo } from './integrity-check-memo';

/** A work that ends when it is told to. */
function work() {
  let [end, fail] = [(): void => undefined, (): void => undefined];
  const over = new Promise<void>((resolve, reject) => {
    end = resolve;
    fail = () => reject(new Error('broken'));
  });
  return { over: () => over, end: () => end(), fail: () => fail() };
}

it('what is being looked at is not looked at twice; once it is whole that is known', async () => {
  const looks = new IntegrityCheckMemo();
  expect([looks.get('a'), looks.isRunning('a')]).toEqual([undefined, false]);
  const one = work();
  const over = looks.begin('a', one.over);
  expect([looks.get('a'), looks.isRunning('a')]).toEqual([over, true]);
  one.end();
  await over;
  expect([looks.get('a'), looks.isRunning('a')]).toEqual([over, false]);
  looks.markIntact('b');
  expect(looks.isRunning('b')).toBe(false);
  await looks.get('b');
  looks.clear();
  expect(looks.get('b')).toBeUndefined();
});

it('what fails is forgotten, but not a later look that goes on', async () => {
  const looks = new IntegrityCheckMemo();
  const [first, second] = [work(), work()];
  const over = looks.begin('a', first.over);
  const later = looks.begin('a', second.over);
  first.fail();
  await expect(over).rejects.toThrow('broken');
  expect([looks.get('a'), looks.isRunning('a')]).toEqual([later, true]);
  second.fail();
  await expect(later).rejects.toThrow('broken');
  expect(looks.get('a')).toBeUndefined();
});
