import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Services } from './services';

export const exportsDir = (root: string): string => join(root, 'exports');

/** File of an export. */
export const exportFile = (root: string, id: string, format: string): string =>
  join(exportsDir(root), `${id}.${format}`);

/** The small picture that stands for an export in a list. */
export const previewFile = (root: string, id: string): string => join(exportsDir(root), `${id}.small.jpg`);

/** Takes away what an export has on disk. */
export const dropExport = (
  { root, deletionLock: hold }: Services,
  { id, format }: { id: string; format: string },
): Promise<void> =>
  hold.deleteWhenAllowed(async () => {
    await rm(exportFile(root, id, format), { force: true });
    await rm(previewFile(root, id), { force: true });
  });
