import { createHash } from 'node:crypto';
import { UserError } from '@owl-loom/base/errors';
import { MOST_LISTS, parseJsonOrUndefined, tooMuchIn } from '@owl-loom/base/json';
import { MANIFEST, MANIFEST_BYTES, MANIFEST_SUM, type Manifest, parseManifest } from './manifest';
import { Zip, damaged } from './zip';

/** Bytes of the file with the manifest's sum, at most. */
const SUM_BYTES = 1024;
/** Lists within each other: a manifest has a handful. */
const NESTED = 20;

/** Which archive is read. */
export interface ManifestTask {
  readonly path: string;
  /** Its name in sentences. */
  readonly called: string;
}

/**
 * Reads and checks what an archive says that it holds. Work for a worker thread: of an archive from elsewhere nothing is known yet.
 * @throws UserError where it is no archive of ours, damaged, or holds more than any of ours
 */
export async function readManifest({ path, called }: ManifestTask): Promise<Manifest> {
  const zip = await Zip.open(path, called);
  try {
    const text = await zip.bytes(MANIFEST, MANIFEST_BYTES);
    // Archives of earlier versions have no sum of it beside their zip's own.
    if (zip.has(MANIFEST_SUM)) {
      const sum = (await zip.bytes(MANIFEST_SUM, SUM_BYTES)).toString('ascii').trim();
      if (sum !== createHash('sha256').update(text).digest('hex')) throw damaged(MANIFEST, called);
    }
    if (tooMuchIn(text, { lists: MOST_LISTS, nested: NESTED }))
      throw new UserError(
        'bad-archive',
        `${called} lists far more than any archive of ours; it was not made by Owl Loom, and nothing of it was brought in.`,
      );
    return parseManifest(parseJsonOrUndefined(text.toString('utf8')), called);
  } finally {
    zip.close();
  }
}
