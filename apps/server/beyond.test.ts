import { setTimeout as delay } from 'node:timers/promises';
import { spawnSync } from 'node:child_process';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { request as secureRequest } from 'node:https';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import request from 'supertest';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { type RunningServer, type StartOptions, startAll } from './main/start';
import { setPassword } from './system/password';
import { loomOn } from './testing/command';

process.env.LOOM_LOG = 'silent';
let root: string;
let running: RunningServer | undefined;
const password = 'four words in mind';

beforeAll(async () => {
  root = await mkdtemp(join(tmpdir(), 'owl-loom-beyond-'));
});
afterEach(async () => {
  await running?.stop();
  running = undefined;
});
afterAll(() => rm(root, { recursive: true, force: true }));

async function start(more: Partial<StartOptions> = {}): Promise<RunningServer> {
  running = await startAll({ root, port: 0, address: '0.0.0.0', ...more });
  return running;
}
const portOf = ({ address }: RunningServer): string => new URL(address).port;
/** The server as it is reached from elsewhere. */
const agent = (from: RunningServer) => request(`http://127.0.0.1:${portOf(from)}`);

const logIn = async (from: RunningServer): Promise<string> => {
  const { headers } = await agent(from).post('/api/session').send({ password }).expect(204);
  return headers['set-cookie'][0];
};

describe('beyond this machine', () => {
  it('Owl Loom does not answer without a password, on any address but its own', async () => {
    for (const address of ['0.0.0.0', '::', '10.1.2.3'])
      await expect(startAll({ root, port: 0, address })).rejects.toMatchObject({
        code: 'no-password',
        message: expect.stringMatching(/Set one with \.\/loom password/),
      });
    const local = await start({ address: '127.0.0.1' });
    await agent(local).get('/api/targets').expect(200);
    await running?.stop();
    // Every address of loopback is this machine, by its own name.
    const other = await start({ address: '127.0.0.2' });
    await request(`http://127.0.0.2:${portOf(other)}`)
      .get('/api/targets')
      .expect(200);
    expect(other.addresses).toEqual([`http://127.0.0.2:${portOf(other)}`]);
  });

  it('a password of one letter is none; the command sets a good one, and takes it away', async () => {
    const set = (text: string) =>
      spawnSync(process.execPath, ['dist/server/cli.js', 'password'], {
        input: `${text}\n`,
        encoding: 'utf8',
        env: { ...process.env, LOOM_DATA: root },
      });
    expect(set('a')).toMatchObject({ status: 1, stderr: expect.stringMatching(/too short: at least 10 characters/) });
    expect(set(password)).toMatchObject({ status: 0 });
    expect((await loomOn(root, 'password', '--remove')).code).toBe(0);
    await expect(startAll({ root, port: 0, address: '0.0.0.0' })).rejects.toMatchObject({ code: 'no-password' });
    await setPassword(root, password);
  });

  it('with a password this machine’s own address asks for it as well', async () => {
    const server = await start({ address: '127.0.0.1' });
    await agent(server).get('/api/targets').expect(401);
    await agent(server)
      .get('/api/targets')
      .set('Cookie', await logIn(server))
      .expect(200);
  });

  it('it says by which addresses it can be opened', async () => {
    const { addresses } = await start();
    for (const address of addresses) expect((await fetch(`${address}/api/health`)).status).toBe(401);
    expect(addresses.join(' ')).not.toContain('0.0.0.0');
  });

  it('it gives nothing away before the password, and everything after it', async () => {
    const server = await start();
    for (const path of ['/api/targets', '/api/events', '/api/health', '/api/house', '/api/nothing'])
      await agent(server).get(path).expect(401);
    await agent(server).put('/api/archives?name=x').send('x').expect(401);
    const { body } = await agent(server).post('/api/session').send({ password: 'wrong words in mind' }).expect(401);
    expect(body.error.message).toMatch(/Wrong password/);
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
    // Its ticket is worth nothing any more; another one is admitted by a new start, and not by another password.
    await agent(server).get('/api/targets').set('Cookie', cookie).expect(401);
    const next = await logIn(server);
    await running?.stop();
    await agent(await start())
      .get('/api/targets')
      .set('Cookie', next)
      .expect(200);
    await running?.stop();
    await setPassword(root, 'four other words now');
    await agent(await start())
      .get('/api/targets')
      .set('Cookie', next)
      .expect(401);
    await running?.stop();
    running = undefined;
    await setPassword(root, password);
  });

  it('whoever guesses is slowed down, and keeps nobody else out; what is no password is no try', async () => {
    const server = await start({ proxies: ['127.0.0.1'] });
    const knock = (body: object, from = '10.9.9.9') =>
      agent(server).post('/api/session').set('X-Forwarded-For', from).send(body);
    for (let i = 0; i < 20; i++) await knock({ pass: i }).expect(422);
    for (let i = 0; i < 3; i++) await knock({ password: `guess ${i}` }).expect(401);
    const { body, headers } = await knock({ password }).expect(429);
    expect(body.error.message).toMatch(/Try again in 1 second\./);
    expect(headers['retry-after']).toBe('1');
    await knock({ password }, '10.9.9.8').expect(204);
    await delay(1100);
    await knock({ password }).expect(204);
  });

  it('where people come from, and whether by TLS, is believed of a proxy that was named and of no other', async () => {
    const as = async (proxies: string[]) => {
      const server = await start({ proxies });
      const { headers } = await agent(server)
        .post('/api/session')
        .set('X-Forwarded-For', '198.51.100.7')
        .set('X-Forwarded-Proto', 'https')
        .send({ password })
        .expect(204);
      const [cookie] = headers['set-cookie'];
      const { body } = await agent(server).get('/api/sessions').set('Cookie', cookie).expect(200);
      await running?.stop();
      return { secure: /; Secure/.test(cookie), from: body.find(({ own }: { own: boolean }) => own).from };
    };
    expect(await as(['127.0.0.1'])).toEqual({ secure: true, from: '198.51.100.7' });
    expect(await as(['192.0.2.1'])).toEqual({ secure: false, from: '127.0.0.1' });
    running = undefined;
  });

  it('a browser is out at once: by its own hand, by another that is let in, by another password or none', async () => {
    const server = await start();
    const cookies = [await logIn(server), await logIn(server), await logIn(server)];
    const seen = () =>
      Promise.all(
        cookies.map(async (cookie) => (await agent(server).get('/api/targets').set('Cookie', cookie)).status),
      );
    expect(await seen()).toEqual([200, 200, 200]);
    await agent(server).delete('/api/session').set('Cookie', cookies[0]).expect(204);
    expect(await seen()).toEqual([401, 200, 200]);
    await agent(server).delete('/api/sessions').set('Cookie', cookies[2]).expect(204);
    expect(await seen()).toEqual([401, 401, 200]);
    await setPassword(root, 'four other words now');
    expect(await seen()).toEqual([401, 401, 401]);
    await agent(server).post('/api/session').send({ password }).expect(401);
    await agent(server).post('/api/session').send({ password: 'four other words now' }).expect(204);
    await setPassword(root, password);
  });

  it('nothing that is behind the password is kept for others on the way', async () => {
    const server = await start();
    const cookie = await logIn(server);
    const { headers } = await agent(server).get('/api/targets').set('Cookie', cookie).expect(200);
    expect(headers['cache-control']).toBe('no-store');
    expect((await agent(server).get('/api/targets').expect(401)).headers['cache-control']).toBe('no-store');
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
    // A name counts with its port; whose name stands before it in an address counts for nothing.
    for (const host of ['loom.example:1', `loom.example:${port}`, 'loom.example.', 'LOOM.EXAMPLE:443'])
      await get(host).expect(403);
    await get('LOOM.example', 'https://LOOM.example').expect(200);
    for (const origin of [
      'https://loom.example:1@evil.example',
      'https://loom.example@evil.example',
      'https://x@loom.example',
    ])
      await get('loom.example', origin).expect(403);
    const post = (site: string) =>
      agent(server)
        .post('/api/targets')
        .set('Cookie', cookie)
        .set('Sec-Fetch-Site', site)
        .send({ name: `by ${site}` });
    for (const site of ['cross-site', 'same-site', 'whatever']) await post(site).expect(403);
    for (const site of ['same-origin', 'none']) await post(site).expect(201);
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
    const answer = await new Promise<{ status?: number; cookie?: string; hsts?: string }>((resolve, reject) => {
      const asked = secureRequest(
        `https://127.0.0.1:${portOf(server)}/api/session`,
        { method: 'POST', rejectUnauthorized: false, headers: { 'Content-Type': 'application/json' } },
        (response) =>
          resolve({
            status: response.statusCode,
            cookie: response.headers['set-cookie']?.[0],
            hsts: response.headers['strict-transport-security'],
          }),
      );
      asked.on('error', reject);
      asked.end(JSON.stringify({ password }));
    });
    expect(answer.status).toBe(204);
    expect(answer.cookie).toMatch(/; Secure/);
    expect(answer.hsts).toMatch(/max-age=\d{7}/);
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
