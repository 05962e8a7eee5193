import type { Pool } from './pool';
import { divisor, load, whole } from './read';
import { survey } from './take';

/** What reads files and surveys their planes: the threads of a pool, or this one. */
export type Reader = Pick<Pool, 'threads' | 'divisor' | 'whole' | 'load' | 'survey'>;

/** Reads in this thread: for a command and a small file, since a thread takes longer to start than the file to read. */
export const inThisThread: Reader = {
  threads: 1,
  divisor,
  whole,
  load,
  survey: async (task) => survey(task),
};
