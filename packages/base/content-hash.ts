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

/** Keys that were made lately: of a recipe on which a hand moves one number, nearly all are asked for again. */
const lately = new Map<string, string>();
const MOST = 4000;

/** A short key for any JSON value: the first 128 bits of its SHA-256. */
export function contentKey(value: unknown): string {
  const text = stableJson(value);
  const known = lately.get(text);
  if (known !== undefined) return known;
  const key = bytesToHex(sha256(utf8ToBytes(text))).slice(0, 32);
  if (lately.size >= MOST) lately.clear();
  lately.set(text, key);
  return key;
}
