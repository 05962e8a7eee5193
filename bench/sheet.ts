import { setTimeout as delay } from 'node:timers/promises';
import { requestJson, json } from '../apps/server/http/request-json';

/** What a contact sheet takes, in seconds, from stacks that are imported already. */
export interface SheetTimes {
  readonly palettes: number;
  /** Until it is known how the stacks lie and which skies are uneven. */
  readonly ground: number;
  readonly first: number;
  readonly all: number;
  /** Of all threads together. */
  readonly processor: number;
}

interface Entry {
  readonly picture?: string;
  readonly ready: boolean;
  readonly trouble?: string;
}

/**
 * Weaves the contact sheet of a target that has none yet.
 * @param processor seconds that the server's threads have had up to now
 */
export async function sheetTimes(address: string, target: string, processor: () => number): Promise<SheetTimes> {
  const from = performance.now();
  const before = processor();
  const since = () => (performance.now() - from) / 1000;
  const list = async () =>
    (await requestJson<{ entries: Entry[] }>(address, `/targets/${target}/palettes`)).entries.filter(
      ({ picture }) => picture,
    );
  await list();
  const ground = since();
  await requestJson(address, `/targets/${target}/sheet`, json('POST', {}));
  let first: number | undefined;
  for (;;) {
    const entries = await list();
    if (entries.some(({ ready }) => ready)) first ??= since();
    if (entries.every(({ ready, trouble }) => ready || trouble)) {
      const all = since();
      return { palettes: entries.length, ground, first: first ?? all, all, processor: processor() - before };
    }
    await delay(100);
  }
}
