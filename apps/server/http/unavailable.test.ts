import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import request from 'supertest';
import { describe, expect, it } from 'vitest';
import { respondStarting } from './unavailable';

describe('what comes before everything has started', () => {
  it('gets a sentence, or a page that opens by itself, and is never left without an answer', async () => {
    const server = createServer(respondStarting);
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    const agent = request(`http://127.0.0.1:${(server.address() as AddressInfo).port}`);
    const { body, headers } = await agent
      .put('/api/recipes/x')
      .send({ a: 'b'.repeat(50_000) })
      .expect(503);
    expect(body.error).toMatchObject({ code: 'starting' });
    expect(headers['retry-after']).toBe('1');
    const page = await agent.get('/').set('Accept', 'text/html').expect(503);
    expect(page.text).toMatch(/http-equiv="refresh"/);
    await new Promise((resolve) => server.close(resolve));
  });
});
