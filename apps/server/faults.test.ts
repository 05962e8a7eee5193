import { setTimeout as rest } from 'node:timers/promises';
import { existsSync } from 'node:fs';
import { mkdtemp, open, readFile, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { requestJson } from './http/request-json';
import type { VerifyReport } from '@owl-loom/api/jobs';
import { loomOn } from './testing/command';
import { CuttableConnection, ServerProcess, freePort } from './testing/server-process';
import { ConsistencyChecker } from './testing/consistency-checker';

/** Faults in all, and what decides them: a longer run takes many and another seed each time, `./loom test --long`. */
const FAULTS = Number(process.env.LOOM_FAULTS ?? 9);
const SEED = Number(process.env.LOOM_SEED ?? 7);
/** A long run ends after so many minutes, however many faults are left. */
const MINUTES = Number(process.env.LOOM_MINUTES ?? 20);

let root: string;
let server: ServerProcess;
let line: CuttableConnection;
let witness: ConsistencyChecker;

beforeAll(async () => {
  root = await mkdtemp(join(tmpdir(), 'owl-loom-faults-'));
  server = new ServerProcess(root, await freePort());
  line = await CuttableConnection.open(server.port);
  witness = new ConsistencyChecker(() => line.port, `127.0.0.1:${server.port}`, SEED);
  server.start();
  await server.ready();
});
afterAll(async () => {
  line.close();
  await server.end('SIGTERM');
  await rm(root, { recursive: true, force: true });
});

/** Turns bytes of a stack's pixels over, or takes some of them away. */
async function damage(): Promise<void> {
  const pixels = await witness.somePixels();
  if (pixels === undefined) return;
  const dir = join(root, 'pixels', pixels);
  const names = await readdir(dir).catch(() => []);
  const name = names[witness.below(Math.max(1, names.length))];
  if (name === undefined) return;
  const kind = witness.below(3);
  if (kind === 0) await rm(join(dir, name), { force: true });
  if (kind === 1) await rm(dir, { recursive: true, force: true });
  if (kind === 2) {
    const file = await open(join(dir, name), 'r+');
    await file.write(Buffer.from('scratched'), 0, 9, witness.below(4000));
    await file.close();
  }
}

/** The last faults that the server has written down: what a person who looks for one needs. */
async function errorsIn(path: string): Promise<string[]> {
  const lines = (await readFile(path, 'utf8')).split('\n').filter((text) => text.includes('a request failed'));
  return lines.slice(-3);
}

const FAULT_KINDS: Record<string, () => Promise<void>> = {
  'the server is killed': async () => {
    await server.end('SIGKILL');
    server.start();
  },
  'the server is killed twice': async () => {
    await server.end('SIGKILL');
    server.start();
    await rest(witness.below(1500));
    await server.end('SIGKILL');
    server.start();
  },
  'the server is stopped and started': async () => {
    await server.end('SIGTERM');
    server.start();
  },
  'the database is killed': async () => {
    const pid = server.databasePid();
    // It may have ended before its file was taken away.
    if (pid !== undefined && existsSync(`/proc/${pid}`)) process.kill(pid, 'SIGKILL');
  },
  'the line breaks': async () => {
    line.cut(witness.below(3000));
    await rest(400);
    line.mend();
  },
  'the line breaks in the middle of what is large': async () => {
    line.cut(20_000 + witness.below(100_000));
    await rest(600);
    line.mend();
  },
  'the server stands still for a while': async () => {
    server.signal('SIGSTOP');
    await rest(witness.below(800));
    server.signal('SIGCONT');
  },
  'pixels are damaged': damage,
};

it(
  'nothing that was acknowledged is lost, whatever happens meanwhile',
  async () => {
    const kinds = Object.keys(FAULT_KINDS);
    const until = Date.now() + MINUTES * 60_000;
    const happened: string[] = [];
    let working = true;
    const worker = async (): Promise<void> => {
      while (working) {
        await witness.work();
        await rest(20);
      }
    };
    const workers = [worker(), worker(), worker()];
    let broken: unknown;
    for (const one of workers)
      one.catch((error: unknown) => {
        broken ??= error;
      });
    await rest(2500);
    for (let i = 0; i < FAULTS && Date.now() < until && !broken; i++) {
      const kind = i < kinds.length ? kinds[i] : kinds[witness.below(kinds.length)];
      happened.push(kind);
      await FAULT_KINDS[kind]();
      await rest(300 + witness.below(1200));
      if (i % 5 === 4) await server.ready();
    }
    await server.ready();
    witness.troubled = false;
    working = false;
    await Promise.allSettled(workers);
    const log = broken ? await errorsIn(join(root, 'server.log')) : [];
    expect({ broken, log, said: server.stderr }).toEqual({
      broken: undefined,
      log: [],
      said: expect.not.stringMatching(/Error:/),
    });
    expect(witness.done).toBeGreaterThan(FAULTS);
    const address = `http://127.0.0.1:${server.port}`;
    expect(await witness.lost((path) => requestJson(address, path)), happened.join(', ')).toEqual([]);
    // Whatever was damaged is put right, and then all is well.
    await loomOn(root, 'verify', '--repair');
    const { out } = await loomOn(root, 'verify');
    expect((JSON.parse(out) as VerifyReport).faults).toEqual([]);
    if (FAULTS > 9) console.log(`${happened.length} faults, ${witness.done} acknowledged deeds, nothing lost`);
  },
  90 * 60_000,
);
