import pino from 'pino';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { nextPause, superviseDatabase } from './database-supervisor';
import type { Database } from './mariadb';

const log = pino({ level: 'silent' });
beforeEach(() => void vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] }));
afterEach(() => void vi.useRealTimers());
const rest = (ms: number) => vi.advanceTimersByTimeAsync(ms);

/** Databases that can be made to die, and starts that fail. */
function fakes() {
  const state = { starts: 0, fails: 0, stops: 0, die: (): void => undefined };
  const start = async (): Promise<Database> => {
    state.starts++;
    if (state.fails > 0) {
      state.fails--;
      throw new Error('it does not start');
    }
    let die = (): void => undefined;
    const ended = new Promise<void>((resolve) => {
      die = resolve;
    });
    state.die = die;
    const stop = async () => {
      state.stops++;
      die();
    };
    return { socketPath: '/s', schema: 'x', user: 'u', ended, stop };
  };
  return { state, start };
}

describe('a database that dies', () => {
  it('is started again, and again with growing pauses while it does not come up', async () => {
    const { state, start } = fakes();
    const kept = await superviseDatabase('/nowhere', log, start);
    state.fails = 4;
    state.die();
    await rest(900);
    expect(state.starts).toBe(1);
    // After 1, 2, 4 and 8 seconds it fails, after 16 it comes up.
    for (const [seconds, starts] of [
      [1, 2],
      [2, 3],
      [4, 4],
      [8, 5],
      [16, 6],
    ]) {
      await rest(seconds * 1000);
      expect(state.starts).toBe(starts);
    }
    await rest(600_000);
    expect(state.starts).toBe(6);
    state.die();
    await rest(1100);
    expect(state.starts).toBe(7);
    await kept.stop();
    await rest(600_000);
    expect(state.starts).toBe(7);
    expect(state.stops).toBeGreaterThan(0);
  });

  it('is not started any more once it is to stop, also between two tries', async () => {
    const { state, start } = fakes();
    const kept = await superviseDatabase('/nowhere', log, start);
    state.fails = 100;
    state.die();
    await rest(20_000);
    const { starts } = state;
    await kept.stop();
    await rest(600_000);
    expect(state.starts).toBe(starts);
  });

  it('never waits longer than a minute', () => {
    let pause = 1000;
    for (let i = 0; i < 20; i++) pause = nextPause(pause);
    expect(pause).toBe(60_000);
  });

  it('that is killed in its first start is started again; one that cannot start says why', async () => {
    const { state, start } = fakes();
    state.fails = 2;
    const kept = await superviseDatabase('/nowhere', log, start);
    expect(state.starts).toBe(3);
    await kept.stop();
    state.fails = 3;
    await expect(superviseDatabase('/nowhere', log, start)).rejects.toThrow(/does not start/);
  });
});
