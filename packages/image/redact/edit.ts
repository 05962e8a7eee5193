/** Bytes, or zeros, in place of as many of a file. Edits never change its length, so that everything else in it stays where it is. */
export type Edit = {
  /** Offset from the start of the file. */
  readonly at: number;
} & ({ readonly bytes: Uint8Array } | { readonly zeros: number });

/**
 * Applies edits to one piece of a file, in place.
 * @param at offset of the piece from the start of the file
 */
export function applyEdits(piece: Uint8Array, at: number, edits: readonly Edit[]): void {
  for (const edit of edits) {
    const length = 'bytes' in edit ? edit.bytes.length : edit.zeros;
    const from = Math.max(at, edit.at);
    const to = Math.min(at + piece.length, edit.at + length);
    if (from >= to) continue;
    if ('bytes' in edit) piece.set(edit.bytes.subarray(from - edit.at, to - edit.at), from - at);
    else piece.fill(0, from - at, to - at);
  }
}
