import { readEmbeddedRecipe } from '@owl-loom/recipe/embedded-recipe';
import { parseRecipe } from '@owl-loom/recipe/parse';
import { FORMAT, type Recipe } from '@owl-loom/recipe/schema';
import type { ByteSource } from '@owl-loom/image/fits/bytes';
import { UserError } from '@owl-loom/base/errors';
import { openFits } from '@owl-loom/image/fits/image';

/** A file of the user's disk, read where it is asked for. */
export function fileSource(file: File): ByteSource {
  return {
    name: file.name,
    size: file.size,
    async read(offset, length) {
      if (offset + length > file.size) throw new RangeError(`read past the end of ${file.name}`);
      return new Uint8Array(await file.slice(offset, offset + length).arrayBuffer());
    },
  };
}

/**
 * Looks at a file's headers before it is sent, so that what is no stack is refused at once and not after gigabytes have gone up.
 * Gzipped files, PNG and TIFF are looked at by the server, which unpacks them.
 * @returns the sentence that refuses it, or undefined where it may go
 */
export async function validateFile(file: File): Promise<string | undefined> {
  const source = fileSource(file);
  const magic = file.size >= 2 ? await source.read(0, 2) : new Uint8Array(2);
  // Gzip, PNG and the two byte orders of TIFF.
  if (['\x1f\x8b', '\x89P', 'II', 'MM'].includes(String.fromCharCode(...magic))) return undefined;
  try {
    await openFits(source);
    return undefined;
  } catch (error) {
    if (error instanceof UserError) return error.message;
    throw error;
  }
}

/** The recipe that a file carries, where it is one that can be opened; of one from a newer Owl Loom, why it cannot. */
export async function embeddedRecipeOf(file: File): Promise<Recipe | undefined> {
  const found = await readEmbeddedRecipe(fileSource(file));
  if (found === undefined) return undefined;
  if (!isRecipe(found)) return undefined;
  parseRecipe(found);
  return found;
}

const isRecipe = (value: unknown): value is Recipe =>
  typeof value === 'object' && value !== null && (value as { format?: unknown }).format === FORMAT;
