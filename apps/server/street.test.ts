import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { chmod, mkdir, mkdtemp, readdir, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createConnection } from 'mysql2/promise';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { HOME } from './system/home';

/** Only root can become another user of the machine to try what that one can do. */
const isRoot = process.getuid?.() === 0 && spawnSync('setpriv', ['--version']).status === 0;

/** What the machine's nobody gets to see of a command. */
const asNobody = (command: string, ...args: string[]) =>
  spawnSync('setpriv', ['--reuid=65534', '--regid=65534', '--clear-groups', command, ...args], { encoding: 'utf8' });

/** Folders of sockets among the machine's temporary files. */
const socketFolders = async (): Promise<string[]> =>
  (await readdir(tmpdir())).filter((name) => /^owl-loom-[A-Za-z0-9]{6}$/.test(name));

/** Paths of everything in a folder, itself among them. */
async function everything(folder: string): Promise<string[]> {
  const entries = await readdir(folder, { withFileTypes: true, recursive: true });
  return [folder, ...entries.map((entry) => join(entry.parentPath, entry.name))];
}

describe.skipIf(!isRoot)('another user of the machine', () => {
  let base: string;
  let root: string;
  let address: string;
  let stop: () => Promise<number>;
  let says = '';
  let before: readonly string[];

  beforeAll(async () => {
    before = await socketFolders();
    base = await mkdtemp(join(tmpdir(), 'owl-loom-street-'));
    await chmod(base, 0o755);
    // So deep that the database's socket has no room beside the data.
    root = join(base, 'a'.repeat(60), 'b'.repeat(60));
    // As an earlier version left it, with a mask that lets everyone read.
    await mkdir(join(root, 'stacks'), { recursive: true, mode: 0o777 });
    await writeFile(join(root, 'stacks', 'old.fits'), 'old', { mode: 0o666 });
    // The mask of this process may have been narrowed by another test.
    for (const path of [root, join(root, 'stacks'), join(root, 'stacks', 'old.fits')]) await chmod(path, 0o777);
    // What someone else may have made ready for us.
    const trap = join(tmpdir(), `owl-loom-${process.getuid?.()}`);
    await mkdir(trap, { recursive: true });
    await chmod(trap, 0o777);
    const script = `umask 000; exec node '${join(HOME, 'dist/server/cli.js')}' start --port 48997`;
    const child = spawn('bash', ['-c', script], {
      env: { ...process.env, LOOM_DATA: root, LOOM_LOG: 'info' },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    child.stderr.on('data', (piece) => {
      says += String(piece);
    });
    const [line] = (await once(child.stdout, 'data')) as [Buffer];
    address = /http:\S+/.exec(String(line))?.[0] ?? '';
    stop = async () => {
      child.kill('SIGTERM');
      const [code] = await once(child, 'exit');
      await rm(trap, { recursive: true, force: true });
      return code as number;
    };
  }, 60_000);
  afterAll(() => rm(base, { recursive: true, force: true }));

  it('can read nothing of the data, whatever the mask was, and whatever an earlier version left open', async () => {
    const made = await fetch(`${address}/api/targets`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: '{"name":"Secret Lamp"}',
    });
    expect(made.status).toBe(201);
    for (const path of await everything(root)) {
      const found = await stat(path).catch(() => undefined);
      if (found) expect([path, (found.mode & 0o077).toString(8)]).toEqual([path, '0']);
    }
    expect(asNobody('ls', root).status).not.toBe(0);
    expect(asNobody('cat', join(root, 'address.json')).status).not.toBe(0);
    expect(asNobody('cat', join(root, 'stacks', 'old.fits')).status).not.toBe(0);
  });

  it('cannot come to the database, and nobody can come in by another name or have it write files', async () => {
    const own = (await socketFolders()).filter((name) => !before.includes(name));
    const sockets = own.map((name) => join(tmpdir(), name, 'db.sock'));
    const [socketPath] = (
      await Promise.all(sockets.map(async (path) => ((await stat(path).catch(() => undefined)) ? [path] : [])))
    ).flat();
    expect(socketPath).toBeDefined();
    expect(asNobody('ls', join(socketPath, '..')).status).not.toBe(0);
    for (const user of ['root', 'nobody', ''])
      expect(
        asNobody('mariadb', '--no-defaults', `--socket=${socketPath}`, `--user=${user}`, '-e', 'SELECT 1').status,
      ).not.toBe(0);
    for (const user of ['nobody', 'mysql', 'mariadb.sys', ''])
      await expect(createConnection({ socketPath, user })).rejects.toThrow(/denied/i);
    const connection = await createConnection({ socketPath, user: 'root' });
    try {
      await expect(connection.query(`SELECT 1 INTO OUTFILE '${join(base, 'written')}'`)).rejects.toThrow(
        /denied|secure/i,
      );
      expect((await connection.query("SELECT LOAD_FILE('/etc/passwd') AS text"))[0]).toEqual([{ text: null }]);
      const [[{ place }]] = (await connection.query('SELECT @@secure_file_priv AS place')) as unknown as [
        [{ place: string }],
      ];
      expect(await readdir(place)).toEqual([]);
    } finally {
      await connection.end();
    }
  });

  it('leaves nothing where a stop was asked for: the server ends by itself, before it is put down, database and all', async () => {
    expect(await stop()).toBe(0);
    expect((await socketFolders()).filter((name) => !before.includes(name))).toEqual([]);
    expect(says).toMatch(/Other users of this machine could read .*; it is closed to them now/);
  });
});
