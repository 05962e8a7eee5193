import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';

/** JSON with its keys in order, so that equal values give equal text. */
export function stableJson(value: unknown): string {
  return JSON.stringify(value, (_, inner: unknown) =>
    typeof inner === 'object' && inner !== null && !Array.isArray(inner)
      ? Object.fromEntries(Object.entries(inner).sort(([a], [b]) => (a < b ? -1 : 1)))
      : inner,
  );
}

/** A short key for any JSON value: the first 128 bits of its SHA-256. */
export const keyOf = (value: unknown): string => bytesToHex(sha256(utf8ToBytes(stableJson(value)))).slice(0, 32);
