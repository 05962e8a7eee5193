import { execFileSync } from 'node:child_process';
import { mkdir, symlink, writeFile } from 'node:fs/promises';
import { connect } from 'node:net';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { TestServer, fits, raw } from '../testing/api';

let server: TestServer;
let target: string;
let recipeId: string;
let stackId: string;
let swatchId: string;
let stateId: string;
let pixels: string;

const recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  name: 'Odd',
  strands: [{ id: 'Ha', from: { stack: 'Ha' } }],
  cloth: { layers: [{ id: 'base', of: { strand: 'Ha' }, steps: [{ do: 'stretch' }] }] },
};

beforeAll(async () => {
  server = await TestServer.open();
  target = await server.newTarget('Odd');
  stackId = await server.bringIn(target, 'o_Ha.fits', fits(31, 'Ha'));
  [{ pixels }] = await server.stacks(target);
  const agent = server.agent();
  recipeId = (await agent.post(`/api/targets/${target}/recipes`).send({ body: recipe }).expect(201)).body.id;
  swatchId = (await agent.post(`/api/targets/${target}/swatches`).send({ recipeId, body: recipe }).expect(201)).body.id;
  stateId = (await agent.get(`/api/recipes/${recipeId}/states`)).body[0].id;
});
afterAll(() => server.close());

/** A sentence for a person: it begins large, ends with a full stop, and holds no words of a checker, of SQL, of code, nor a path of ours. */
function isSentence(text: unknown): void {
  expect(text).toMatch(/^[^\n]{8,400}[.!?]$/);
  expect(text).not.toMatch(
    /Invalid|expected|received|undefined|NaN|Zod|SELECT|ER_|SQL|at Object|node_modules|\/tmp\/owl|Error:|\[object/,
  );
}

interface Asked {
  method: string;
  path: string;
  headers?: Record<string, string>;
  body?: string | Buffer;
}

/** Sends a request as bytes; what no client would send, this one does. */
function sent({ method, path, headers = {}, body = '' }: Asked): Promise<{ status: number; text: string }> {
  const { hostname, port, host } = new URL(server.running.address);
  return new Promise((resolve, reject) => {
    const socket = connect(Number(port), hostname, () => {
      const all = { Host: host, Connection: 'close', 'Content-Length': String(Buffer.byteLength(body)), ...headers };
      const head = Object.entries(all).map(([name, value]) => `${name}: ${value}`);
      socket.write(`${[`${method} ${path} HTTP/1.1`, ...head].join('\r\n')}\r\n\r\n`);
      socket.write(body);
    });
    let answer = '';
    socket.setTimeout(20_000, () => socket.destroy(new Error(`no answer to ${method} ${path}`)));
    socket.on('data', (piece) => {
      answer += piece.toString('utf8');
    });
    socket.on('close', () =>
      resolve({ status: Number(answer.split(' ')[1]), text: answer.split('\r\n\r\n').slice(1).join('') }),
    );
    socket.on('error', reject);
  });
}

async function refused(asked: Asked, allowed: readonly number[] = []): Promise<void> {
  const { status, text } = await sent(asked);
  const where = `${asked.method} ${asked.path.slice(0, 120)} ${String(asked.body ?? '').slice(0, 80)}`;
  if (allowed.includes(status)) return;
  expect(status, where).toBeGreaterThanOrEqual(400);
  expect(status, where).toBeLessThan(500);
  const json = /\{.*\}/s.exec(text)?.[0] ?? text;
  expect(json, where).toMatch(/^\{"error"/);
  isSentence(JSON.parse(json).error.message);
}

const json = { 'Content-Type': 'application/json' };
/** Every request that takes a body. */
const bodies = (): [string, string][] => [
  ['POST', '/api/targets'],
  ['PATCH', `/api/targets/${target}`],
  ['PATCH', `/api/stacks/${stackId}`],
  ['POST', `/api/stacks/${stackId}/edges`],
  ['POST', `/api/targets/${target}/scale`],
  ['POST', `/api/targets/${target}/inbox`],
  ['POST', `/api/targets/${target}/recipes`],
  ['PUT', `/api/recipes/${recipeId}`],
  ['POST', `/api/targets/${target}/measure`],
  ['POST', `/api/targets/${target}/proof`],
  ['PATCH', `/api/states/${stateId}`],
  ['POST', `/api/targets/${target}/palettes`],
  ['POST', '/api/patterns'],
  ['POST', `/api/targets/${target}/swatches`],
  ['PATCH', `/api/swatches/${swatchId}`],
  ['POST', `/api/targets/${target}/exports`],
  ['POST', '/api/backups'],
  ['PUT', '/api/backups/schedule'],
];

const IDS = [
  '%',
  '%zz',
  '%00',
  '%ff',
  '%ed%a0%80',
  '..%2f..%2fetc%2fpasswd',
  'x'.repeat(3000),
  "1'%20OR%20'1'='1",
  '999999999999999999999',
  '%F0%9F%A6%89',
];

describe('odd requests', () => {
  it.each(IDS)('with %s where an id stands are refused in a sentence', async (id) => {
    for (const path of ['targets', 'recipes', 'stacks', 'swatches', 'states', 'exports', 'jobs', 'covers', 'sheets'])
      for (const after of ['', '/states', '/file', '/picture', '/header', '/stacks', '/cover'])
        await refused({ method: 'GET', path: `/api/${path}/${id}${after}` });
    for (const path of ['targets', 'recipes', 'stacks', 'swatches', 'exports', 'trash/recipe', 'trash'])
      await refused({ method: 'DELETE', path: `/api/${path}/${id}` });
    await refused({ method: 'POST', path: `/api/jobs/${id}/cancel` });
    await refused({ method: 'POST', path: `/api/trash/recipe/${id}/back` });
    for (const place of [`${id}/9/9/0/0/0/0`, `${pixels}/9/9/${id}/0/0/0`, `${pixels}/${id}/9/0/0/0/0`])
      await refused({ method: 'GET', path: `/api/pixels/${place}` });
  });

  it.each([
    ['no body', json, ''],
    ['a body that is none', json, '{'],
    ['a list', json, '[]'],
    ['a number', json, '7'],
    ['null', json, 'null'],
    ['text', { 'Content-Type': 'text/plain' }, 'hello'],
    ['no type', {}, '{"name":"x"}'],
    ['an odd charset', { 'Content-Type': 'application/json; charset=klingon' }, '{"name":"x"}'],
    ['a charset of two bytes that is not', { 'Content-Type': 'application/json; charset=utf-16' }, '{"name":"x"}'],
    ['an odd encoding', { ...json, 'Content-Encoding': 'sneaky' }, '{"name":"x"}'],
    ['gzip that is none', { ...json, 'Content-Encoding': 'gzip' }, '{"name":"x"}'],
    ['a deep list', json, `${'['.repeat(50_000)}${']'.repeat(50_000)}`],
    ['a deep object', json, `${'{"a":'.repeat(20_000)}1${'}'.repeat(20_000)}`],
    ['a key that is no key', json, '{"__proto__":{"x":1},"constructor":1}'],
    ['broken UTF-8', json, Buffer.from([0x7b, 0x22, 0xff, 0xfe, 0x22, 0x3a, 0x31, 0x7d])],
  ] as const)('with %s for a body are refused in a sentence', async (what, headers, body) => {
    // A change that changes nothing is no fault.
    const allowed = what === 'no body' ? [200] : [];
    for (const [method, path] of bodies()) await refused({ method, path, headers, body }, allowed);
  });

  it.each([
    ['POST', '/api/targets', { name: 7 }],
    ['POST', '/api/targets', { name: 'x'.repeat(201) }],
    ['POST', '/api/targets', { name: 'ok', more: 1 }],
    ['PUT', '/api/recipes/RECIPE', { parent: 2 ** 31, body: recipe }],
    ['PUT', '/api/recipes/RECIPE', { parent: 1e300, body: recipe }],
    ['PUT', '/api/recipes/RECIPE', { parent: -1, body: recipe }],
    ['PUT', '/api/recipes/RECIPE', { parent: 1.5, body: recipe }],
    ['PUT', '/api/recipes/RECIPE', { parent: 1, body: recipe, key: 'no' }],
    ['POST', '/api/targets/TARGET/exports', { recipeId: 'none', format: 'tif' }],
    ['POST', '/api/targets/TARGET/exports', { recipeId: 7, format: 'gif' }],
    ['PATCH', '/api/stacks/STACK', { exposure: -1 }],
    ['PATCH', '/api/stacks/STACK', { wavelength: 1e99 }],
    ['POST', '/api/targets/TARGET/scale', { divisor: 0 }],
    ['POST', '/api/backups', { dir: '\u0000' }],
    ['POST', '/api/backups', { dir: '/dev/null/x' }],
  ] as const)('%s with numbers and words out of range: a sentence (%#)', async (method, path, body) => {
    const own = path.replace('RECIPE', recipeId).replace('TARGET', target).replace('STACK', stackId);
    await refused({ method, path: own, headers: json, body: JSON.stringify(body) });
  });

  it('files that were never asked for in time, or of a revision beyond all counting, are refused as well', async () => {
    for (const revision of [2 ** 31, 2 ** 53, 0, -1, 0.5, 99]) {
      const body = JSON.stringify({ recipeId, format: 'tif', revision });
      const { status, text } = await sent({
        method: 'POST',
        path: `/api/targets/${target}/exports`,
        headers: json,
        body,
      });
      // One that may be is looked for by the job, which then says that it is not there.
      if (status !== 202)
        await refused({ method: 'POST', path: `/api/targets/${target}/exports`, headers: json, body });
      else
        expect(await server.jobEnds(JSON.parse(/\{.*\}/s.exec(text)?.[0] ?? '').job)).toMatchObject({
          state: 'failed',
        });
    }
  });

  it('letters that are half are kept whole or refused, never an error', async () => {
    for (const name of ['\ud800', 'a\udc00b', '\ud83e\udd89 owl', '\u0000', 'a\u0007b', '\u202eabc']) {
      const { status, text } = await sent({
        method: 'POST',
        path: '/api/targets',
        headers: json,
        body: JSON.stringify({ name }),
      });
      expect([201, 422]).toContain(status);
      if (status === 422) isSentence(JSON.parse(/\{.*\}/s.exec(text)?.[0] ?? '').error.message);
    }
    const body = { ...recipe, name: 'half \ud800' };
    const made = await sent({
      method: 'POST',
      path: `/api/targets/${target}/recipes`,
      headers: json,
      body: JSON.stringify({ body }),
    });
    expect([201, 422]).toContain(made.status);
  });

  it('uploads with odd names, no name, or a name that is a path', async () => {
    for (const query of [
      '',
      '?name=',
      `?name=${'x'.repeat(300)}`,
      '?name=a&name=b',
      '?name[x]=1',
      '?name=%ff',
      '?name=%00',
    ])
      for (const place of [`/api/targets/${target}/uploads`, '/api/archives'])
        await refused(
          { method: 'PUT', path: place + query, headers: raw, body: 'no stack' },
          place === '/api/archives' ? [202] : [],
        );
    await refused({
      method: 'PUT',
      path: `/api/targets/${target}/uploads?name=..%2f..%2fx.fits`,
      headers: raw,
      body: 'no stack',
    });
    await refused({
      method: 'PUT',
      path: `/api/targets/${target}/uploads?name=x.fits&replace=none`,
      headers: raw,
      body: 'x',
    });
    await refused({ method: 'PUT', path: `/api/targets/${target}/uploads?name=empty.fits`, headers: raw, body: '' });
  });

  it('what is in the inbox and is no file: folders, links that lead nowhere or away, pipes, and one that cannot be read', async () => {
    const inbox = join(server.root, 'inbox');
    await mkdir(join(inbox, 'folder.fits'));
    await symlink('/nowhere/at/all.fits', join(inbox, 'dangling.fits'));
    await symlink('/etc/hostname', join(inbox, 'away.fits'));
    await symlink('loop.fits', join(inbox, 'loop.fits'));
    execFileSync('mkfifo', [join(inbox, 'pipe.fits')]);
    await writeFile(join(inbox, 'good.fits'), fits(32, 'OIII'));
    const names = [
      'folder.fits',
      'dangling.fits',
      'away.fits',
      'loop.fits',
      'pipe.fits',
      '../outside.fits',
      'good.fits',
    ];
    const { body: listed } = await server.agent().get('/api/inbox').expect(200);
    expect(listed.files.map(({ name }: { name: string }) => name)).toEqual(['good.fits']);
    const { body: taken } = await server
      .agent()
      .post(`/api/targets/${target}/inbox`)
      .send({ files: names })
      .expect(202);
    for (const one of taken.slice(0, -1)) isSentence(one.trouble);
    expect((await server.jobEnds(taken.at(-1).job)).state).toBe('done');
  });

  it('addresses that lead nowhere, in the page, its assets and the API', async () => {
    await refused({ method: 'GET', path: '/api' });
    await refused({ method: 'GET', path: '/api/' });
    await refused({ method: 'GET', path: '/assets/no-such-file.js' }, [404]);
    await refused({ method: 'GET', path: '/assets/%ff' });
    await refused({ method: 'GET', path: '/%' });
    await refused({ method: 'GET', path: '/assets/..%2f..%2fpackage.json' });
    await refused({ method: 'DELETE', path: '/' });
    await refused({ method: 'POST', path: '/targets/x/stacks', headers: json, body: '{}' });
    await refused({ method: 'PATCH', path: '/api/health' });
    for (const path of ['http://evil.example/api/health', '*', '//evil.example/'])
      await refused({ method: 'GET', path }, [200]);
  });
});

describe('large and deep recipes', () => {
  const groups = (depth: number): unknown => {
    let layer: unknown = { id: 'leaf', of: { strand: 'Ha' } };
    for (let i = 0; i < depth; i++) layer = { id: `group${i}`, of: { layers: [layer] } };
    return { ...recipe, cloth: { layers: [layer] } };
  };
  const add = (body: unknown) => server.agent().post(`/api/targets/${target}/recipes`).send({ body });

  it('as deep as the schema allows are kept; deeper ones are refused with the depth that is allowed', async () => {
    const deepest = async (): Promise<number> => {
      let depth = 0;
      while (depth < 200 && (await add(groups(depth + 1))).status === 201) depth++;
      return depth;
    };
    const depth = await deepest();
    expect(depth).toBeGreaterThanOrEqual(8);
    const { body } = await add(groups(depth + 1)).expect(422);
    isSentence(body.error.message);
    expect(body.error.message).toMatch(new RegExp(`\\b${depth}\\b`));
    for (const far of [40, 200, 1000])
      await refused({
        method: 'POST',
        path: `/api/targets/${target}/recipes`,
        headers: json,
        body: JSON.stringify({ body: groups(far) }),
      });
  });

  it('of five hundred strands answer', async () => {
    const strands = Array.from({ length: 500 }, (_, i) => ({
      id: `s${i}`,
      from: { stack: 'Ha' },
      steps: [{ do: 'scale', multiply: 1 + i / 500 }],
    }));
    const weights = Object.fromEntries(strands.map(({ id }) => [id, 1]));
    const body = {
      ...recipe,
      strands,
      cloth: {
        layers: [
          { id: 'base', of: { mix: { red: weights, green: weights, blue: weights } }, steps: [{ do: 'stretch' }] },
        ],
      },
    };
    const made = await add(body).expect(201);
    const asked = { recipe: body, paths: ['cloth'], also: [] };
    const { body: told } = await server.agent().post(`/api/targets/${target}/measure`).send(asked).expect(200);
    if (told.job) expect((await server.jobEnds(told.job)).state).toBe('done');
    await server.agent().get(`/api/recipes/${made.body.id}`).expect(200);
  });

  it('that this version cannot read stand in nobody’s way', async () => {
    const { body: made } = await add(recipe).expect(201);
    await server.running.studio.data.query('UPDATE revisions SET body = ? WHERE recipeId = ?', [
      JSON.stringify({ format: 'owl-loom-recipe', version: 1, strands: [{ id: 'x', from: { what: 1 } }] }),
      made.id,
    ]);
    const other = await server.bringIn(target, 'o_SII.fits', fits(33, 'SII'));
    await server.agent().patch(`/api/stacks/${other}`).send({ name: 'Sulphur' }).expect(200);
    await server.agent().delete(`/api/stacks/${other}`).expect(204);
    await server.agent().get(`/api/targets/${target}/stacks`).expect(200);
    const { status, body } = await server.agent().get(`/api/recipes/${made.id}/cover`);
    expect(status).toBeLessThan(500);
    if (status >= 400) isSentence(body.error.message);
  });
});
