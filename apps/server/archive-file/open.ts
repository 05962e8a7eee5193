import { UserError } from '@owl-loom/base/errors';
import { MOST_LISTS, parseJsonOrUndefined, tooMuchIn } from '@owl-loom/base/json';
import { LIMITS } from '@owl-loom/recipe/limits';
import { type ArchivedFile, type Manifest, filesOf } from './manifest';
import { type ManifestTask, readManifest } from './read-manifest';
import { Zip } from './zip';

/** Bytes that a JSON or a small picture of an archive may have: more is none that we have written. */
const SMALL = 2 * LIMITS.bytes;
/** Lists of a recipe or a pattern within each other. */
const NESTED = 250;

/** An archive that has been opened: its manifest, and its files by their names. */
export interface OpenArchive {
  readonly manifest: Manifest;
  /** A file as bytes. */
  bytes(file: ArchivedFile): Promise<Buffer>;
  /** A file of JSON, read. */
  json(file: ArchivedFile): Promise<object>;
  /** Writes a file to disk. */
  extract(file: ArchivedFile, to: string, signal: AbortSignal): Promise<void>;
  close(): void;
}

/**
 * Opens an archive and checks that it holds what it says; no file is read yet but the manifest.
 * @param read reads the manifest, in another thread where requests are answered in this one
 * @throws UserError where it is no archive of ours, or cut off
 */
export async function openArchive(
  { path, called }: ManifestTask,
  read: (task: ManifestTask) => Promise<Manifest> = readManifest,
): Promise<OpenArchive> {
  const manifest = await read({ path, called });
  const zip = await Zip.open(path, called);
  try {
    for (const file of filesOf(manifest)) {
      const original = file.entry.startsWith('originals/');
      if (zip.sizeOf(file.entry, original ? Number.MAX_SAFE_INTEGER : SMALL) !== file.bytes)
        throw new UserError(
          'damaged-archive',
          `${called} is damaged: the size of ${file.entry} is wrong. Nothing was imported; use another copy.`,
        );
    }
  } catch (error) {
    zip.close();
    throw error;
  }
  const bytes = (file: ArchivedFile): Promise<Buffer> => zip.bytes(file.entry, SMALL, file);
  return {
    manifest,
    bytes,
    async json(file) {
      const text = await bytes(file);
      const value = tooMuchIn(text, { lists: MOST_LISTS, nested: NESTED })
        ? undefined
        : parseJsonOrUndefined(text.toString('utf8'));
      if (typeof value !== 'object' || value === null)
        throw new UserError('bad-archive', `${file.entry} of this archive is not valid JSON. Nothing was imported.`);
      return value;
    },
    extract: (file, to, signal) => zip.extract(file, to, signal),
    close: () => zip.close(),
  };
}
