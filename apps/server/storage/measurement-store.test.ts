import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import type { Measurement } from '@owl-loom/engine/measurements/index';
import type { MeasurementStore } from '../render/run-options';
import { translateSystemError } from '../system/system-errors';
import { TestServer } from '../testing/api';
import { measurementStore } from './measurement-store';

let server: TestServer;
let store: MeasurementStore;

beforeAll(async () => {
  server = await TestServer.open();
  store = measurementStore(server.running.services.data);
});
afterAll(() => server.close());

const key = (digit: string) => digit.repeat(32);
/** A measurement that is megabytes long; its numbers are told apart to the last digit. */
const long: Measurement = {
  kind: 'middle',
  planes: Array.from({ length: 60_000 }, (_, i) => ({ median: Math.sqrt(i) / 3, mean: -1e-300 * (i + 1) })),
};

it('a figure comes back as it was kept, however long, to the last digit', async () => {
  await store.set(key('a'), long);
  expect(await store.get(key('a'))).toEqual(long);
  expect(await store.get(key('b'))).toBeUndefined();
});

it('a figure that is kept again takes the place of the one before', async () => {
  const other: Measurement = { kind: 'ends', ends: null };
  await store.set(key('a'), other);
  expect(await store.get(key('a'))).toEqual(other);
  await store.set(key('c'), long);
  expect(await store.get(key('a'))).toEqual(other);
});

it('a database that is away is said to be so, and what is kept afterwards is kept', async () => {
  process.kill(Number(await readFile(join(server.root, 'db', 'db.pid'), 'utf8')), 'SIGKILL');
  const error = await store.set(key('d'), long).catch((what: unknown) => what);
  expect(translateSystemError(error)?.code).toBe('database-gone');
  await vi.waitFor(() => store.set(key('d'), long), { timeout: 30_000, interval: 200 });
  expect(await store.get(key('d'))).toEqual(long);
});
