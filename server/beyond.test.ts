import { spawnSync } from 'node:child_process';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { request as secureRequest } from 'node:https';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import request from 'supertest';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { type Running, type StartOptions, startAll } from './start';
import { setPassword } from './system/password';
import { loomOn } from './testing/command';

process.env.LOOM_LOG = 'silent';
let root: string;
let running: Running | undefined;
const password = 'four words in mind';

beforeAll(async () => {
  root = await mkdtemp(join(tmpdir(), 'owl-loom-beyond-'));
});
afterEach(async () => {
  await running?.stop();
  running = undefined;
});
afterAll(() => rm(root, { recursive: true, force: true }));

async function start(more: Partial<StartOptions> = {}): Promise<Running> {
  running = await startAll({ root, port: 0, address: '0.0.0.0', ...more });
  return running;
}
const portOf = ({ address }: Running): string => new URL(address).port;
/** The server as it is reached from elsewhere. */
const agent = (from: Running) => request(`http://127.0.0.1:${portOf(from)}`);

const logIn = async (from: Running): Promise<string> => {
  const { headers } = await agent(from).post('/api/session').send({ password }).expect(204);
  return headers['set-cookie'][0];
};

describe('beyond this machine', () => {
  it('Owl Loom does not answer without a password, on any address but its own', async () => {
    for (const address of ['0.0.0.0', '::', '10.1.2.3'])
      await expect(startAll({ root, port: 0, address })).rejects.toMatchObject({
        code: 'no-password',
        message: expect.stringMatching(/set one with \.\/loom password/),
      });
    const local = await start({ address: '127.0.0.1' });
    await agent(local).get('/api/targets').expect(200);
  });

  it('a password of one letter is none; the command sets a good one, and takes it away', async () => {
    const set = (text: string) =>
      spawnSync(process.execPath, ['dist/server/cli.js', 'password'], {
        input: `${text}\n`,
        encoding: 'utf8',
        env: { ...process.env, LOOM_DATA: root },
      });
    expect(set('a')).toMatchObject({ status: 1, stderr: expect.stringMatching(/has 1 letters; take at least 10/) });
    expect(set(password)).toMatchObject({ status: 0 });
    expect((await loomOn(root, 'password', '--remove')).code).toBe(0);
    await expect(startAll({ root, port: 0, address: '0.0.0.0' })).rejects.toMatchObject({ code: 'no-password' });
    await setPassword(root, password);
  });

  it('it gives nothing away before the password, and everything after it', async () => {
    const server = await start();
    for (const path of ['/api/targets', '/api/events', '/api/health', '/api/house', '/api/nothing'])
      await agent(server).get(path).expect(401);
    await agent(server).put('/api/archives?name=x').send('x').expect(401);
    const { body } = await agent(server).post('/api/session').send({ password: 'wrong words in mind' }).expect(401);
    expect(body.error.message).toMatch(/not the password/);
    const cookie = await logIn(server);
    expect(cookie).toMatch(/; HttpOnly/);
    expect(cookie).toMatch(/; SameSite=Strict/);
    expect(cookie).not.toMatch(/; Secure/);
    await agent(server).get('/api/targets').set('Cookie', cookie).expect(200);
    await agent(server)
      .get('/api/targets')
      .set('Cookie', `${cookie.split(';')[0]}0`)
      .expect(401);
    // What is large goes through as before.
    const name = 'x'.repeat(150);
    await agent(server).post('/api/targets').set('Cookie', cookie).send({ name }).expect(201);
    const left = await agent(server).delete('/api/session').set('Cookie', cookie).expect(204);
    expect(left.headers['set-cookie'][0]).toMatch(/owl_loom=;/);
    // A new start admits who was let in; another password does not.
    await running?.stop();
    await agent(await start())
      .get('/api/targets')
      .set('Cookie', cookie)
      .expect(200);
    await running?.stop();
    await setPassword(root, 'four other words now');
    await agent(await start())
      .get('/api/targets')
      .set('Cookie', cookie)
      .expect(401);
    await running?.stop();
    running = undefined;
    await setPassword(root, password);
  });

  it('tries are counted', async () => {
    const server = await start();
    for (let i = 0; i < 10; i++)
      await agent(server)
        .post('/api/session')
        .send({ password: `guess ${i}` })
        .expect(401);
    const { body } = await agent(server).post('/api/session').send({ password }).expect(429);
    expect(body.error.message).toMatch(/wait a quarter of an hour/);
  });

  it('Host and Origin are as strict as before; a name behind a proxy is one that was given', async () => {
    const server = await start({ aliases: ['loom.example'] });
    const cookie = await logIn(server);
    const get = (host: string, origin?: string) => {
      const asked = agent(server).get('/api/targets').set('Cookie', cookie).set('Host', host);
      return origin === undefined ? asked : asked.set('Origin', origin);
    };
    const port = portOf(server);
    await get(`127.0.0.1:${port}`).expect(200);
    await get('loom.example', 'https://loom.example').expect(200);
    await get(`127.0.0.1:${port}`, 'https://evil.example').expect(403);
    await get('evil.example').expect(403);
    await get('loom.example.evil.example').expect(403);
    await get(`127.0.0.1:${port}`, 'null').expect(403);
  });

  it('commands of this user need no password', async () => {
    await start();
    const told = await loomOn(root, 'verify');
    expect({ code: told.code, err: told.err }).toEqual({ code: 0, err: '' });
  });
});

describe('TLS', () => {
  it('is spoken with a certificate and its key; its cookie goes nowhere else', async (context) => {
    const [cert, key] = [join(root, 'cert.pem'), join(root, 'key.pem')];
    const made = spawnSync(
      'openssl',
      [
        'req',
        '-x509',
        '-newkey',
        'ec',
        '-pkeyopt',
        'ec_paramgen_curve:prime256v1',
        '-nodes',
        '-days',
        '2',
        '-subj',
        '/CN=localhost',
        '-keyout',
        key,
        '-out',
        cert,
      ],
      { encoding: 'utf8' },
    );
    if (made.status !== 0) return context.skip();
    const server = await start({ tls: { cert, key } });
    expect(server.address).toMatch(/^https:/);
    const answer = await new Promise<{ status?: number; cookie?: string }>((resolve, reject) => {
      const asked = secureRequest(
        `https://127.0.0.1:${portOf(server)}/api/session`,
        { method: 'POST', rejectUnauthorized: false, headers: { 'Content-Type': 'application/json' } },
        (response) => resolve({ status: response.statusCode, cookie: response.headers['set-cookie']?.[0] }),
      );
      asked.on('error', reject);
      asked.end(JSON.stringify({ password }));
    });
    expect(answer.status).toBe(204);
    expect(answer.cookie).toMatch(/; Secure/);
    expect((await loomOn(root, 'verify')).code).toBe(0);
  });

  it('with files that are none, or an address that is none, is refused in one sentence', async () => {
    await writeFile(join(root, 'not.pem'), 'no certificate');
    const not = join(root, 'not.pem');
    const refused = (more: Partial<StartOptions>, says: RegExp) =>
      expect(startAll({ root, port: 0, ...more })).rejects.toMatchObject({ message: expect.stringMatching(says) });
    await refused({ tls: { cert: not, key: not } }, /are no certificate and its key in PEM/);
    await refused({ tls: { cert: join(root, 'none'), key: not } }, /cannot be read \(ENOENT\); check --tls-cert/);
    await refused({ address: '203.0.113.7' }, /This machine has no address 203.0.113.7/);
  });
});
