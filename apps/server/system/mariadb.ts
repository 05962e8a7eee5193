import { setTimeout as delay } from 'node:timers/promises';
import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import {
  closeSync,
  existsSync,
  lstatSync,
  mkdirSync,
  mkdtempSync,
  openSync,
  readFileSync,
  renameSync,
  rmSync,
} from 'node:fs';
import { tmpdir, userInfo } from 'node:os';
import { join } from 'node:path';
import { type Connection, type RowDataPacket, createConnection } from 'mysql2/promise';
import { UserError, errorCodeOf } from '@owl-loom/base/errors';

/** The longest path that a Unix socket may have. */
const SOCKET_PATH = 100;
const SCHEMA = 'owl_loom';
/** MariaDB has masks of its own, by which its group could read what it writes. */
const PRIVATE = { ...process.env, UMASK: '0600', UMASK_DIR: '0700' };

/** A running database that this process started. */
export interface Database {
  readonly socketPath: string;
  readonly schema: string;
  readonly user: string;
  /** Resolves when the server has ended by itself. */
  readonly ended: Promise<void>;
  stop(): Promise<void>;
}

/** Folders of sockets that this process has made, by the folder of the data: the database listens at the same place after every start. */
const made = new Map<string, string>();

/** Where the server listens: a socket in a folder that only this user can enter. One that has no room beside the data has a fresh folder of its own: one that is there could be anyone's. */
function socketFor(dir: string): string {
  const near = join(dir, 'db.sock');
  if (near.length <= SOCKET_PATH) return near;
  const own = made.get(dir) ?? mkdtempSync(join(tmpdir(), 'owl-loom-'));
  made.set(dir, own);
  // The folder of temporary files may be anyone's as well: what is entered must be ours, and ours alone.
  const found = lstatSync(own);
  if (!found.isDirectory() || found.uid !== userInfo().uid || (found.mode & 0o077) !== 0)
    throw new UserError('database-socket', `${own} has been changed by someone else; start again.`);
  return join(own, 'db.sock');
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
    { encoding: 'utf8', env: PRIVATE },
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
    await delay(100);
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

/** What MariaDB says of a user who may not come in. */
const REFUSED = new Set(['ER_ACCESS_DENIED_ERROR', 'ER_ACCESS_DENIED_NO_PASSWORD_ERROR', 'ER_DBACCESS_DENIED_ERROR']);

/** What it says of a privilege that is not there to be taken away. */
const HAS_NONE = new Set(['ER_NONEXISTING_GRANT', 'ER_ACCESS_DENIED_ERROR', 'ER_ACCESS_DENIED_NO_PASSWORD_ERROR']);

/** Users that MariaDB needs itself, by which nobody can come in. */
const INTERNAL = 'mariadb.sys';

/**
 * Leaves two users, whom the system itself vouches for by the socket: its root, and this one, who may do all with our tables and nothing else.
 * Neither may read or write files. Databases of earlier versions had a root without a password.
 */
async function narrowed(connection: Connection, user: string): Promise<void> {
  const name = connection.escape(user);
  await connection.query(`CREATE DATABASE IF NOT EXISTS ${SCHEMA} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci`);
  await connection.query(`CREATE USER IF NOT EXISTS ${name}@'localhost' IDENTIFIED VIA unix_socket`);
  for (const one of new Set(["'root'", name])) {
    await connection.query(`ALTER USER ${one}@'localhost' IDENTIFIED VIA unix_socket`);
    // Who has not got a privilege may not take it from others either.
    await connection.query(`REVOKE FILE ON *.* FROM ${one}@'localhost'`).catch((error: NodeJS.ErrnoException) => {
      if (!HAS_NONE.has(error.code ?? '')) throw error;
    });
  }
  await connection.query(`GRANT ALL PRIVILEGES ON ${SCHEMA}.* TO ${name}@'localhost'`);
  const [others] = await connection.query<RowDataPacket[]>(
    "SELECT user, host FROM mysql.global_priv WHERE NOT (host = 'localhost' AND user IN ('root', ?, ?))",
    [user, INTERNAL],
  );
  for (const other of others)
    await connection.query(`DROP USER ${connection.escape(other.user)}@${connection.escape(other.host)}`);
}

/** Connects as this user; where MariaDB does not know it yet, sees to that as its root. */
async function reachable(socketPath: string, user: string): Promise<boolean> {
  const as = async (name: string): Promise<void> => {
    const connection = await createConnection({ socketPath, user: name });
    try {
      if (name === 'root') await narrowed(connection, user);
    } finally {
      await connection.end();
    }
  };
  try {
    await as(user).catch(async (error: NodeJS.ErrnoException) => {
      if (user === 'root' || !REFUSED.has(error.code ?? '')) throw error;
      await as('root');
      await as(user);
    });
    return true;
  } catch (fault) {
    const code = errorCodeOf(fault);
    if (code !== undefined && NOT_YET.has(code)) return false;
    if (code !== undefined && REFUSED.has(code))
      throw new UserError(
        'database-user',
        `The database at ${socketPath} was set up by another user of this machine; start Owl Loom as that one, or choose another folder with LOOM_DATA.`,
      );
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
  // Where the database may read and write files of its users: a folder that holds none, and takes none.
  const files = join(dir, 'files');
  mkdirSync(files, { recursive: true, mode: 0o500 });
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
      `--secure-file-priv=${files}`,
      '--skip-networking',
      '--skip-name-resolve',
      '--innodb-buffer-pool-size=64M',
      '--max-allowed-packet=64M',
      '--performance-schema=OFF',
    ],
    // A group of its own: Ctrl-C must reach it through us, after the jobs have been put down.
    { stdio: ['ignore', log, log], detached: true, env: PRIVATE },
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
  // Where this process ends in a hurry the database is told so all the same.
  const endWithUs = (): void => {
    if (!over) child.kill('SIGTERM');
  };
  process.once('exit', endWithUs);

  try {
    for (let tries = 0; !(await reachable(socketPath, user)); tries++) {
      if (over || tries > 300)
        throw new UserError('database-start', `MariaDB did not start; its own words are in ${logFile}.`);
      await delay(100);
    }
  } catch (error) {
    endWithUs();
    throw error;
  }
  return {
    socketPath,
    schema: SCHEMA,
    user,
    ended,
    async stop() {
      process.off('exit', endWithUs);
      endWithUs();
      await ended;
      const own = made.get(dir);
      if (own) rmSync(own, { recursive: true, force: true });
      made.delete(dir);
    },
  };
}
