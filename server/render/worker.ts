import { readlinkSync } from 'node:fs';
import { constants, setPriority } from 'node:os';
import Piscina from 'piscina';
import { UserError } from '../../core/errors';
import type { Answer } from './pool';
import * as tasks from './tasks';

// A measurement cannot be interrupted, so the system is asked to let the page's own threads go first; there a priority is a thread's own.
if (process.platform === 'linux' && (Piscina.workerData as { gentle: boolean }).gentle) {
  setPriority(Number(readlinkSync('/proc/thread-self').split('/').pop()), constants.priority.PRIORITY_LOW);
}

async function answer<T>(work: () => T | Promise<T>): Promise<Answer<T>> {
  try {
    return { ok: await work() };
  } catch (fault) {
    if (fault instanceof UserError) return { fault: { code: fault.code, message: fault.message, path: fault.path } };
    throw fault;
  }
}

/** The tasks as the pool calls them, by name. */
export const band = (task: Parameters<typeof tasks.band>[0]) => answer(() => tasks.band(task));
export const measure = (task: Parameters<typeof tasks.measure>[0]) => answer(() => tasks.measure(task));
export const survey = (task: Parameters<typeof tasks.survey>[0]) => answer(() => tasks.survey(task));
export const load = (task: Parameters<typeof tasks.load>[0]) => answer(() => tasks.load(task));
export const reaches = (task: Parameters<typeof tasks.reaches>[0]) => answer(() => tasks.reaches(task));
export const edges = (task: Parameters<typeof tasks.edges>[0]) => answer(() => tasks.edges(task));
export const levels = (task: Parameters<typeof tasks.levels>[0]) => answer(() => tasks.levels(task));
