import { setTimeout as delay } from 'node:timers/promises';
import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import type { IncomingMessage } from 'node:http';
import { request } from 'node:https';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type RunningServer, startAll } from './main/start';
import { HOME } from './system/home';
import { setPassword } from './system/password';

process.env.LOOM_LOG = 'silent';
const password = 'four words in mind';
const PORT = 48_443;
let root: string;
let running: RunningServer;
let proxy: ChildProcess;

/** A certificate and its key in one file, for a day. */
function certificate(path: string): void {
  const [key, cert] = [`${path}.key`, `${path}.crt`];
  const how = ['-x509', '-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:prime256v1', '-nodes', '-days', '1'];
  const made = spawnSync('openssl', ['req', ...how, '-subj', '/CN=loom.example', '-keyout', key, '-out', cert]);
  if (made.status !== 0) throw new Error(String(made.stderr));
  spawnSync('sh', ['-c', `cat '${cert}' '${key}' > '${path}'`]);
}

interface Answer {
  readonly status?: number;
  readonly headers: IncomingMessage['headers'];
  readonly text: string;
}

/** Asks through the proxy, by the name that people use. */
function ask(
  path: string,
  { method = 'GET', headers = {}, body = '' }: { method?: string; headers?: object; body?: string } = {},
): Promise<Answer> {
  return new Promise((resolve, reject) => {
    const asked = request(
      {
        host: '127.0.0.1',
        port: PORT,
        path,
        method,
        rejectUnauthorized: false,
        headers: { Host: 'loom.example', 'Content-Type': 'application/json', ...headers },
      },
      (response) => {
        let text = '';
        response.on('data', (piece) => {
          text += String(piece);
        });
        response.on('end', () => resolve({ status: response.statusCode, headers: response.headers, text }));
      },
    );
    asked.on('error', reject);
    asked.end(body);
  });
}

describe('the proxy of the worked example', () => {
  beforeAll(async () => {
    root = await mkdtemp(join(tmpdir(), 'owl-loom-proxy-'));
    await setPassword(root, password);
    running = await startAll({ root, port: 0, aliases: ['loom.example'], proxies: ['127.0.0.1'], gentle: false });
    certificate(join(root, 'loom.pem'));
    const example = /```haproxy\n([\s\S]+?)```/.exec(await readFile(join(HOME, 'docs/security.md'), 'utf8'))?.[1] ?? '';
    const own = example
      .replace('bind :443', `bind 127.0.0.1:${PORT}`)
      .replace('/etc/ssl/loom.pem', join(root, 'loom.pem'))
      .replace('127.0.0.1:4860', new URL(running.address).host);
    await writeFile(join(root, 'haproxy.cfg'), own);
    proxy = spawn('haproxy', ['-db', '-f', join(root, 'haproxy.cfg')], { stdio: 'ignore' });
    for (let tries = 0; tries < 100; tries++) {
      const there = await ask('/api/health').then(
        ({ status }) => status !== 503,
        () => false,
      );
      if (there) return;
      await delay(100);
    }
    throw new Error('the proxy did not start');
  }, 60_000);
  afterAll(async () => {
    proxy?.kill();
    if (proxy) await once(proxy, 'exit');
    await running?.stop();
    await rm(root, { recursive: true, force: true });
  });

  it('lets people in by the password, with a cookie for TLS alone, and says where they come from', async () => {
    expect((await ask('/api/targets')).status).toBe(401);
    const forged = { 'X-Forwarded-For': '203.0.113.9', 'X-Forwarded-Proto': 'http' };
    const { status, headers } = await ask('/api/session', {
      method: 'POST',
      headers: { ...forged, Origin: 'https://loom.example', 'Sec-Fetch-Site': 'same-origin' },
      body: JSON.stringify({ password }),
    });
    expect(status).toBe(204);
    const [cookie] = headers['set-cookie'] ?? [''];
    expect(cookie).toMatch(/; Secure/);
    const { text } = await ask('/api/sessions', { headers: { ...forged, Cookie: cookie } });
    // What a stranger says of where they come from is not believed.
    expect(JSON.parse(text)).toMatchObject([{ own: true, from: '127.0.0.1' }]);
    const made = await ask('/api/targets', {
      method: 'POST',
      headers: { Cookie: cookie },
      body: '{"name":"Far Lamp"}',
    });
    expect(made.status).toBe(201);
  });

  it('answers by no other name', async () => {
    expect((await ask('/api/targets', { headers: { Host: 'evil.example' } })).status).toBe(403);
    expect((await ask('/api/targets', { headers: { Host: 'loom.example:8443' } })).status).toBe(403);
  });
});
