import { setTimeout as delay } from 'node:timers/promises';
import { readFile, readdir, writeFile } from 'node:fs/promises';
import { request as httpRequest } from 'node:http';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Recipe } from '@owl-loom/recipe/schema';
import { JobEntity } from '../storage/db/entities';
import { fits, TestServer } from '../testing/api';

/** On a stack that the target does not have. */
const recipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  name: 'R',
  strands: [{ id: 'Ha', from: { stack: 'Ha' }, steps: [] }],
};

let server: TestServer;

beforeAll(async () => {
  server = await TestServer.open();
});

afterAll(() => server.close());

describe('jobs', () => {
  it('that ran when the server died run again, and give up after two times', async () => {
    const target = await server.newTarget('Restart');
    const table = server.running.services.data.getRepository(JobEntity);
    const stuck = async (attempts: number) => {
      const id = crypto.randomUUID();
      await table.insert({
        id,
        kind: 'measure',
        targetId: target,
        title: 'figures',
        payload: { recipe, paths: [], also: [] } as never,
        state: 'running',
        result: null as never,
        progress: 0.4,
        message: null,
        attempts,
      });
      return id;
    };
    const again = await stuck(1);
    const hopeless = await stuck(2);
    const orphan = join(server.root, 'stacks', `${'0'.repeat(64)}.fits`);
    await writeFile(orphan, 'left by a process that died');
    const before = await readdir(join(server.root, 'stacks'));
    await server.restart();
    expect(await server.jobEnds(hopeless)).toMatchObject({
      state: 'failed',
      message: expect.stringMatching(/The server ended 2 times while this was at work/),
    });
    // A file that no stack speaks of is gone, the others are there.
    expect(await readdir(join(server.root, 'stacks'))).toEqual(before.filter((name) => !orphan.endsWith(name)));
    // It ran again: what it asks for cannot be measured in a target without stacks, and it says so.
    expect(await server.jobEnds(again)).toMatchObject({
      state: 'failed',
      message: expect.stringMatching(/no stack named/),
    });
  });

  it('can be stopped, and tell the page of every change', async () => {
    const target = await server.newTarget('Events');
    const events: string[] = [];
    const url = new URL(`${server.running.address}/api/events`);
    const line = httpRequest(url, (response) => response.on('data', (part: Buffer) => events.push(part.toString())));
    line.end();
    await delay(100);
    await server.bringIn(target, 'e_Ha.fits', fits(31, 'Ha'));
    line.destroy();
    const told = events.join('');
    expect(told).toMatch(/event: hello/);
    expect(told).toMatch(/"state":"running"/);
    expect(told).toMatch(/"state":"done"/);
    await server.agent().post('/api/jobs/none/cancel').expect(404);
  });

  it('go with their target, and its files with it', async () => {
    const target = await server.newTarget('Gone');
    await server.bringIn(target, 'g_Ha.fits', fits(77, 'Ha'));
    const before = (await readdir(join(server.root, 'stacks'))).length;
    await server.removeAndEmptyTrash('target', target);
    expect((await readdir(join(server.root, 'stacks'))).length).toBe(before - 1);
    expect(await readFile(join(server.root, 'server.log'), 'utf8')).toBe('');
  });
});
