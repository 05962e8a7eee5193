import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { UserError } from '@owl-loom/base/errors';

/** What a small picture's file is called, by whose it is and by what it shows; names come from the page unchecked. */
export const PICTURE_NAME = /^[0-9a-f-]{36}\.[0-9a-f]{32}\.jpg$/;

/** The bytes of a small picture of a folder. */
export const readThumbnail = (folder: string, name: string): Promise<Buffer> =>
  readFile(join(folder, name)).catch(() => {
    throw new UserError('no-pixels', 'This picture is no longer stored.');
  });
