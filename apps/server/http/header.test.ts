import { readFile } from 'node:fs/promises';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { exportFile } from '../services/export-files';
import { ExportEntity } from '../storage/db/entities';
import { TestServer, fits, hydrogen } from '../testing/api';

let server: TestServer;
let target: string;
let recipeId: string;

beforeAll(async () => {
  server = await TestServer.open();
  target = await server.newTarget('Headers');
  const cards = [
    { key: 'OBSERVER', value: 'A. Lamp' },
    { key: 'SITELAT', value: 47.5 },
    { key: 'TELESCOP', value: 'Tube of six inches' },
  ];
  const history = ['masters of /home/lamp/masters/dark.fits', '40 frames kept'];
  await server.bringIn(target, 'a_Ha.fits', fits(21, 'Ha', 0, { cards, history }));
  recipeId = await server.newRecipe(target, hydrogen('Headers'));
});
afterAll(() => server.close());

/** The header of a FITS that is written of the recipe. */
async function headOf(more: object): Promise<string> {
  const asked = { recipeId, format: 'fits', credits: 'Lamp club', ...more };
  const { body } = await server.agent().post(`/api/targets/${target}/exports`).send(asked).expect(202);
  const { state, result } = await server.jobEnds(body.job);
  expect(state).toBe('done');
  const { services } = server.running;
  const row = await services.data.getRepository(ExportEntity).findOneByOrFail({ id: String(result?.exportId) });
  return (await readFile(exportFile(services.root, row.id, row.format))).toString('latin1', 0, 28_800);
}

it('a FITS leaves out who took it and where, where that is wished, and nothing else', async () => {
  const personal = [/OBSERVER= 'A\. Lamp/, /SITELAT/, /home\/lamp/];
  const others = [/TELESCOP= 'Tube of six inches/, /40 frames kept/, /AUTHOR {2}= 'Lamp club/];
  const whole = await headOf({});
  for (const says of [...personal, ...others]) expect(whole).toMatch(says);
  const without = await headOf({ impersonal: true });
  for (const says of personal) expect(without).not.toMatch(says);
  for (const says of others) expect(without).toMatch(says);
});
