/** Random access to the bytes of a file: a Node file, a browser `File`, a block of memory. */
export interface ByteSource {
  /** How a person knows the file: its name without folders. */
  readonly name: string;
  /** Length in bytes. */
  readonly size: number;
  /** Reads exactly `length` bytes from `offset`; rejects where the file ends before. */
  read(offset: number, length: number): Promise<Uint8Array>;
}

/** A byte source over a block of memory. */
export function memorySource(name: string, bytes: Uint8Array): ByteSource {
  return {
    name,
    size: bytes.length,
    async read(offset, length) {
      if (!(offset >= 0 && length >= 0 && offset + length <= bytes.length))
        throw new RangeError(`read past the end of ${name}`);
      return bytes.subarray(offset, offset + length);
    },
  };
}

/** ASCII text as bytes. */
export const asciiBytes = (text: string): Uint8Array => Uint8Array.from(text, (letter) => letter.charCodeAt(0));

/** Bytes as text, one character a byte: FITS headers are ASCII, and a stray byte must not end the reading. */
export function latin1(bytes: Uint8Array): string {
  let text = '';
  for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192));
  return text;
}
