import { createHash } from 'node:crypto';
import { writeFile } from 'node:fs/promises';
import { type Edit, applyEdits } from '@owl-loom/image/redact/edit';
import { redactFits } from '@owl-loom/image/redact/fits';
import { redactTiff } from '@owl-loom/image/redact/tiff';
import { openFile } from '../codecs/open-file';
import { kindOf } from '../codecs/image-file';
import { redactPng } from '../codecs/redact-png';

/** Bytes that are copied at a time. */
const PIECE = 4 * 2 ** 20;

export interface RedactTask {
  readonly path: string;
  /** How a person knows the file. */
  readonly name: string;
  /** The copy to write. */
  readonly to: string;
}

export interface Redacted {
  readonly bytes: number;
  readonly sha256: string;
}

/**
 * Copies a stack's file without who took it and where. A gzipped one is unpacked on the way.
 * @returns size and hash of the copy; null where the file says nothing of the kind, and no copy is needed
 * @throws UserError where the file is none that is read
 */
export async function redactFile({ path, name, to }: RedactTask): Promise<Redacted | null> {
  const source = await openFile(path, name);
  try {
    const kind = await kindOf(source);
    const edits: Edit[] = await (kind === 'PNG' ? redactPng : kind === 'TIFF' ? redactTiff : redactFits)(source);
    if (edits.length === 0) return null;
    const sum = createHash('sha256');
    async function* pieces(): AsyncGenerator<Uint8Array> {
      for (let at = 0; at < source.size; at += PIECE) {
        const piece = await source.read(at, Math.min(PIECE, source.size - at));
        const own = piece.slice();
        applyEdits(own, at, edits);
        sum.update(own);
        yield own;
      }
    }
    await writeFile(to, pieces());
    return { bytes: source.size, sha256: sum.digest('hex') };
  } finally {
    await source.close();
  }
}
