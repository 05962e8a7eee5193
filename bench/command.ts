import { execFile } from 'node:child_process';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { HOME } from '../apps/server/system/home';

/** What a run of the command took, in seconds. */
export interface Spent {
  readonly seconds: number;
  /** Of all threads together: on a busy machine this is to be trusted, and the other less. */
  readonly processor: number;
}

/** `0m1.234s` in seconds. */
const secondsOf = (text: string): number => {
  const [, minutes, seconds] = /^(\d+)m([\d.,]+)s$/.exec(text) ?? [];
  if (minutes === undefined) throw new Error(`no time: ${text}`);
  return 60 * Number(minutes) + Number(seconds.replace(',', '.'));
};

/** Runs the built command in a process of its own. */
export async function timedCommand(args: readonly string[]): Promise<Spent> {
  const started = performance.now();
  // The shell tells what its children took: the second line of `times`.
  const script = '"$@" >&2 || exit 1; times';
  const { stdout } = await promisify(execFile)(
    'bash',
    ['-c', script, 'bash', process.execPath, join(HOME, 'dist/server/cli.js'), ...args],
    { maxBuffer: 2 ** 26 },
  );
  const seconds = (performance.now() - started) / 1000;
  const children = stdout.trim().split('\n').at(-1) ?? '';
  return { seconds, processor: children.split(/\s+/).reduce((sum, text) => sum + secondsOf(text), 0) };
}
