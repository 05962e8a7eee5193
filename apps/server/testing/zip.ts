import type { ZipFile } from 'yazl';

/** The bytes of a zip that has all its entries. */
export async function zipBytes(zip: ZipFile): Promise<Buffer> {
  zip.end();
  const pieces: Buffer[] = [];
  for await (const piece of zip.outputStream) pieces.push(piece as Buffer);
  return Buffer.concat(pieces);
}
