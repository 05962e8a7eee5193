import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { closeSync, existsSync, mkdirSync, openSync, readFileSync, renameSync, rmSync } from 'node:fs';
import { tmpdir, userInfo } from 'node:os';
import { join } from 'node:path';
import { createConnection } from 'mysql2/promise';
import { UserError } from '../../core/errors';

/** The longest path that a Unix socket may have. */
const SOCKET_PATH = 100;
const SCHEMA = 'owl_loom';

/** A running database that this process started. */
export interface Database {
  readonly socketPath: string;
  readonly schema: string;
  readonly user: string;
  /** Resolves when the server has ended by itself. */
  readonly ended: Promise<void>;
  stop(): Promise<void>;
}

/** Where the server listens: a socket that only this user can reach, so no port can be taken and no password is needed. */
function socketFor(dir: string): string {
  const near = join(dir, 'db.sock');
  if (near.length <= SOCKET_PATH) return near;
  const own = join(tmpdir(), `owl-loom-${userInfo().uid}`);
  mkdirSync(own, { recursive: true, mode: 0o700 });
  return join(own, `${createHash('sha256').update(dir).digest('hex').slice(0, 16)}.sock`);
}

/** Sets the data up beside their place and renames them, so that one that is cut off leaves nothing half. */
function prepare(dataDir: string, temporary: string, user: string): void {
  const fresh = `${dataDir}.new`;
  rmSync(fresh, { recursive: true, force: true });
  const result = spawnSync(
    'mariadb-install-db',
    [
      '--no-defaults',
      `--datadir=${fresh}`,
      `--tmpdir=${temporary}`,
      `--user=${user}`,
      '--auth-root-authentication-method=normal',
      '--skip-test-db',
      '--skip-name-resolve',
    ],
    { encoding: 'utf8' },
  );
  if (result.status !== 0) {
    rmSync(fresh, { recursive: true, force: true });
    throw new UserError(
      'database-setup',
      `MariaDB could not set up its data in ${dataDir}: ${(result.stderr || result.stdout || String(result.error)).trim().split('\n').at(-1)}`,
    );
  }
  // What the name will stand for must be on the disk before the name is.
  spawnSync('sync', ['-f', fresh]);
  renameSync(fresh, dataDir);
}

const commandOf = (pid: number): string =>
  existsSync(`/proc/${pid}/cmdline`) ? readFileSync(`/proc/${pid}/cmdline`, 'utf8') : '';

/**
 * Ends a database that an earlier Owl Loom left behind when it was killed. Only one that was started on this very data; the lock on the
 * folder has made sure before that no other Owl Loom is using it.
 */
async function endLeftOver(pidFile: string): Promise<void> {
  if (!existsSync(pidFile)) return;
  const pid = Number(readFileSync(pidFile, 'utf8').trim());
  const ours = (): boolean => commandOf(pid).includes('mariadbd') && commandOf(pid).includes(pidFile);
  if (ours()) process.kill(pid, 'SIGTERM');
  for (let tries = 0; ours(); tries++) {
    if (tries > 300)
      throw new UserError(
        'database-held',
        `A MariaDB of an earlier run (process ${pid}) holds Owl Loom's data and does not end; end it with: kill -9 ${pid}`,
      );
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  rmSync(pidFile, { force: true });
}

/** What a connection says while the server comes up, or when it has just gone down. */
const NOT_YET = new Set([
  'ENOENT',
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'PROTOCOL_CONNECTION_LOST',
  'ER_SERVER_SHUTDOWN',
]);

async function reachable(socketPath: string, user: string): Promise<boolean> {
  try {
    const connection = await createConnection({ socketPath, user });
    await connection.query(`CREATE DATABASE IF NOT EXISTS ${SCHEMA} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci`);
    await connection.end();
    return true;
  } catch (fault) {
    const { code } = fault as NodeJS.ErrnoException;
    if (code !== undefined && NOT_YET.has(code)) return false;
    throw fault;
  }
}

/**
 * Starts MariaDB with its data under `dir`, on a socket that only this user can reach.
 * @throws UserError where it will not start
 */
export async function startDatabase(dir: string): Promise<Database> {
  mkdirSync(dir, { recursive: true, mode: 0o700 });
  const dataDir = join(dir, 'data');
  const pidFile = join(dir, 'db.pid');
  const logFile = join(dir, 'db.log');
  const user = userInfo().username;
  await endLeftOver(pidFile);
  // Servers that share the system's folder for temporary files clear each other's; what a run that was killed left there is of no use.
  const temporary = join(dir, 'tmp');
  rmSync(temporary, { recursive: true, force: true });
  mkdirSync(temporary, { mode: 0o700 });
  if (!existsSync(join(dataDir, 'mysql'))) prepare(dataDir, temporary, user);
  const socketPath = socketFor(dir);
  rmSync(socketPath, { force: true });
  const log = openSync(logFile, 'a');
  const child: ChildProcess = spawn(
    'mariadbd',
    [
      '--no-defaults',
      `--datadir=${dataDir}`,
      `--tmpdir=${temporary}`,
      `--user=${user}`,
      `--socket=${socketPath}`,
      `--pid-file=${pidFile}`,
      '--skip-networking',
      '--skip-name-resolve',
      '--innodb-buffer-pool-size=64M',
      '--max-allowed-packet=64M',
      '--performance-schema=OFF',
    ],
    // A group of its own: Ctrl-C must reach it through us, after the jobs have been put down.
    { stdio: ['ignore', log, log], detached: true },
  );
  closeSync(log);
  let over = false;
  const ended = new Promise<void>((resolve) =>
    child.once('exit', () => {
      over = true;
      resolve();
    }),
  );
  child.once('error', () => {
    over = true;
  });

  for (let tries = 0; !(await reachable(socketPath, 'root')); tries++) {
    if (over || tries > 300)
      throw new UserError('database-start', `MariaDB did not start; its own words are in ${logFile}.`);
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  return {
    socketPath,
    schema: SCHEMA,
    user: 'root',
    ended,
    async stop() {
      if (!over) child.kill('SIGTERM');
      await ended;
    },
  };
}
