import { afterAll, beforeAll, expect, it } from 'vitest';
import { TestServer } from '../testing/api';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.open();
});
afterAll(() => server.close());

const body = { kind: 'steps', roles: [{ id: 'R', filter: 'R' }], steps: [{ do: 'continuum', broad: 'R' }] };

it('patterns are kept for all targets, listed newest first, and taken away', async () => {
  const { id } = (await server.agent().post('/api/patterns').send({ name: ' Gas alone ', body }).expect(201)).body;
  await server
    .agent()
    .post('/api/patterns')
    .send({ name: 'Later', says: 'more', body: { ...body, roles: [] } })
    .expect(201);
  const rows = (await server.agent().get('/api/patterns').expect(200)).body;
  expect(rows.map(({ name }: { name: string }) => name)).toEqual(['Later', 'Gas alone']);
  expect(rows[1]).toMatchObject({ id, says: '', body });
  await server.agent().delete(`/api/patterns/${id}`).expect(204);
  expect((await server.agent().get('/api/patterns')).body).toHaveLength(1);
});

it('what is no pattern is refused in a sentence', async () => {
  const refuse = async (asked: object, status: number, why: RegExp) => {
    const { error } = (await server.agent().post('/api/patterns').send(asked).expect(status)).body;
    expect(error.message).toMatch(why);
  };
  await refuse({ name: 'Later', body }, 409, /already; take another name/);
  await refuse({ name: ' ', body }, 422, /give the pattern a name/);
  await refuse({ name: 'Odd', body: { ...body, kind: 'cloth' } }, 422, /\w/);
  await refuse({ name: 'Odd', body: { ...body, steps: [{ do: 'no-such-step' }] } }, 422, /\w/);
});
