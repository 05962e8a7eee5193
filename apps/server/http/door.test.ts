import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { TestServer } from '../testing/api';
import { sentLines } from '../testing/raw-request';

let server: TestServer;

beforeAll(async () => {
  server = await TestServer.open();
});

afterAll(() => server.close());

describe('the door', () => {
  it('is open to this machine and its own page alone', async () => {
    await server.agent().get('/api/health').set('Host', 'evil.example').expect(403);
    await server.agent().get('/api/health').set('Origin', 'http://evil.example').expect(403);
    await server.agent().get('/api/health').set('Origin', server.running.address).expect(200);
  });

  it('takes one Host a request', async () => {
    const { address } = server.running;
    const host = `Host: ${new URL(address).host}`;
    const one = await sentLines(address, ['GET /api/health HTTP/1.1', host, 'Connection: close']);
    expect(one).toMatch(/^HTTP\/1.1 200/);
    for (const second of ['Host: evil.example', host]) {
      const answer = await sentLines(address, ['GET /api/health HTTP/1.1', host, second, 'Connection: close']);
      expect(answer).toMatch(/^HTTP\/1.1 400/);
      expect(answer).toMatch(/names one Host/);
    }
  });

  it('lets no script in that is not ours', async () => {
    const { headers } = await server.agent().get('/api/health');
    expect(headers['content-security-policy']).toMatch(/script-src 'self'/);
    expect(headers['content-security-policy']).not.toMatch(/'unsafe-eval'/);
    expect(headers['x-powered-by']).toBeUndefined();
  });

  it.each([
    ['get', '/api/nothing', 404],
    ['get', '/api/targets/none', 404],
    ['get', '/api/recipes/none', 404],
    ['get', '/api/exports/none/file', 404],
  ] as const)('%s %s answers %i with a sentence', async (method, path, status) => {
    const { body } = await server.agent()[method](path).expect(status);
    expect(body.error.message).toMatch(/^There is no.*\.$/);
  });

  it('refuses bodies that are no JSON, or too large', async () => {
    await server.agent().post('/api/targets').set('Content-Type', 'application/json').send('{ "name": ').expect(422);
    await server
      .agent()
      .post('/api/targets')
      .send({ name: 'x'.repeat(5_000_000) })
      .expect(413);
    await server.agent().post('/api/targets').send({ name: '   ' }).expect(422);
  });
});
