import { join } from 'node:path';

/** Archives that were made and wait to be fetched; they go when they are a day old. */
export const archivesDir = (root: string): string => join(root, 'archives');

/** The file of an archive, by the job that made it. */
export const archiveFile = (root: string, id: string): string => join(archivesDir(root), `${id}.zip`);

/** Where an archive lies that is being brought back. */
export const incomingFile = (root: string, id: string): string => join(root, 'restoring', id);
