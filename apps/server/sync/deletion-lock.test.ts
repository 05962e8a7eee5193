import { expect, it } from 'vitest';
import { DeletionLock } from './deletion-lock';

it('what is to go waits for all that hold it, and goes at once where none does', async () => {
  const hold = new DeletionLock();
  const gone: string[] = [];
  const take = (name: string) => hold.deleteWhenAllowed(async () => void gone.push(name));
  await take('first');
  expect(gone).toEqual(['first']);
  let end = (): void => undefined;
  const long = hold.withoutDeletions(
    () =>
      new Promise<void>((resolve) => {
        end = resolve;
      }),
  );
  await hold.withoutDeletions(() => take('second'));
  expect(gone).toEqual(['first']);
  await expect(hold.withoutDeletions(() => Promise.reject(new Error('broke')))).rejects.toThrow('broke');
  await take('third');
  end();
  await long;
  expect(gone).toEqual(['first', 'second', 'third']);
  await take('fourth');
  expect(gone).toHaveLength(4);
});
