import type { Logger } from 'pino';
import { type Database, startDatabase } from './mariadb';

/** Milliseconds before a database that has died is started again; each time that it fails they double, up to the longest. */
const FIRST_PAUSE = 1000;
const LONGEST_PAUSE = 60_000;

/** The pause before the next try. */
export const nextPause = (pause: number): number => Math.min(LONGEST_PAUSE, 2 * pause);

/** A database that is started again whenever it dies, for as long as this process lives. */
export interface SupervisedDatabase {
  /** Where it listens: the same after every start. */
  readonly at: Pick<Database, 'socketPath' | 'schema' | 'user'>;
  stop(): Promise<void>;
}

/** Tries of the first start: one that was killed in it is worth another, one that cannot start is to be told. */
const FIRST_TRIES = 3;

async function firstStart(dir: string, log: Logger, start: (dir: string) => Promise<Database>): Promise<Database> {
  for (let tries = 1; ; tries++) {
    try {
      return await start(dir);
    } catch (error) {
      if (tries === FIRST_TRIES) throw error;
      log.error(error, 'the database does not start; that is tried again');
    }
  }
}

/**
 * Starts the database under a folder and keeps it alive.
 * @param start takes the place of MariaDB in tests
 * @throws UserError where it does not start the first time
 */
export async function superviseDatabase(
  dir: string,
  log: Logger,
  start: (dir: string) => Promise<Database> = startDatabase,
): Promise<SupervisedDatabase> {
  let database = await firstStart(dir, log, start);
  const stopping = new AbortController();
  const rest = (ms: number): Promise<void> =>
    new Promise((resolve) => {
      const timer = setTimeout(resolve, ms);
      stopping.signal.addEventListener('abort', () => {
        clearTimeout(timer);
        resolve();
      });
    });
  const watch = async (): Promise<void> => {
    for (;;) {
      await database.ended;
      for (let pause = FIRST_PAUSE; !stopping.signal.aborted; pause = nextPause(pause)) {
        log.error({ pause }, 'the database has ended by itself; it is started again');
        await rest(pause);
        if (stopping.signal.aborted) return;
        try {
          database = await start(dir);
          break;
        } catch (error) {
          log.error(error, 'the database does not start; that is tried again');
        }
      }
      if (stopping.signal.aborted) return;
    }
  };
  const watching = watch();
  return {
    at: database,
    async stop() {
      stopping.abort();
      await database.stop();
      await watching;
      // One that came up while it was to be stopped.
      await database.stop();
    },
  };
}
