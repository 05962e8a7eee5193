import { deserialize, serialize } from 'node:v8';
import { LRUCache } from 'lru-cache';
import type { Measurement } from '@owl-loom/engine/measurements/index';

/** A measurement on its way to other threads: its bytes are shared, so that handing it over costs the same whatever it holds. */
export interface SharedMeasurement {
  readonly key: string;
  readonly bytes: Uint8Array<SharedArrayBuffer>;
}

/** The bytes of measurements that were passed before, as long as the measurements live. */
const passed = new WeakMap<Measurement, Uint8Array<SharedArrayBuffer>>();

/** A measurement made ready for other threads, once however often it is passed. */
export function shareMeasurement(key: string, figure: Measurement): SharedMeasurement {
  let bytes = passed.get(figure);
  if (!bytes) {
    const plain = serialize(figure);
    bytes = new Uint8Array(new SharedArrayBuffer(plain.length));
    bytes.set(plain);
    passed.set(figure, bytes);
  }
  return { key, bytes };
}

/** Bytes of measurements that a thread keeps; the longest lists of stars take some two million each. */
const KEPT = 48 * 2 ** 20;

const taken = new LRUCache<string, Measurement>({ maxSize: KEPT });

/** A measurement that was passed: read once by each thread, and the same object every time, so that what is worked out of it is kept as well. */
export function receiveMeasurement({ key, bytes }: SharedMeasurement): Measurement {
  const known = taken.get(key);
  if (known) return known;
  const figure = deserialize(Uint8Array.from(bytes)) as Measurement;
  taken.set(key, figure, { size: bytes.length });
  return figure;
}
