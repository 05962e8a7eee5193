import { execFileSync } from 'node:child_process';
import { mkdir, symlink, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { TestServer, fits, hydrogen, raw as asBytes } from '../testing/api';
import * as raw from '../testing/raw-request';
import { type Asked, isSentence } from '../testing/raw-request';

let server: TestServer;
let target: string;
let recipeId: string;
let stackId: string;
let swatchId: string;
let stateId: string;
let pixels: string;

const recipe = hydrogen('Odd');

beforeAll(async () => {
  server = await TestServer.open();
  target = await server.newTarget('Odd');
  stackId = await server.bringIn(target, 'o_Ha.fits', fits(31, 'Ha'));
  [{ pixels }] = await server.stacks(target);
  const agent = server.agent();
  recipeId = await server.newRecipe(target, recipe);
  swatchId = (await agent.post(`/api/targets/${target}/swatches`).send({ recipeId, body: recipe }).expect(201)).body.id;
  stateId = (await agent.get(`/api/recipes/${recipeId}/states`)).body[0].id;
});
afterAll(() => server.close());

const sent = (asked: Asked) => raw.sent(server.running.address, asked);
const refused = (asked: Asked, allowed?: readonly number[]) => raw.refused(server.running.address, asked, allowed);

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
          { method: 'PUT', path: place + query, headers: asBytes, body: 'no stack' },
          place === '/api/archives' ? [202] : [],
        );
    await refused({
      method: 'PUT',
      path: `/api/targets/${target}/uploads?name=..%2f..%2fx.fits`,
      headers: asBytes,
      body: 'no stack',
    });
    await refused({
      method: 'PUT',
      path: `/api/targets/${target}/uploads?name=x.fits&replace=none`,
      headers: asBytes,
      body: 'x',
    });
    await refused({
      method: 'PUT',
      path: `/api/targets/${target}/uploads?name=empty.fits`,
      headers: asBytes,
      body: '',
    });
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
