import type { WorkerPool } from './worker-pool';
import { findDivisor, loadRows, loadFile } from '../pixels/inspect-file';
import { measurePlane } from '../pixels/import-tasks';

/** What reads files and surveys their planes: the threads of a pool, or this one. */
export type Reader = Pick<WorkerPool, 'threads' | 'divisor' | 'whole' | 'load' | 'survey'>;

/** Reads in this thread: for a command and a small file, since a thread takes longer to start than the file to read. */
export const inThisThread: Reader = {
  threads: 1,
  divisor: findDivisor,
  whole: loadFile,
  load: loadRows,
  survey: async (task) => measurePlane(task),
};
