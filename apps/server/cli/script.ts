import { spawn } from 'node:child_process';
import { HOME } from '../system/home';

/** Runs one of the scripts in `tools/` to its end; gives its exit code. */
export async function runTool(name: string, ...args: readonly string[]): Promise<number> {
  const child = spawn(process.execPath, [`tools/${name}`, ...args], { cwd: HOME, stdio: 'inherit' });
  return new Promise((resolve) => child.once('exit', (status) => resolve(status ?? 1)));
}
