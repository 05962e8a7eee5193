import { setTimeout as delay } from 'node:timers/promises';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import request from 'supertest';
import { encodeFits } from '@owl-loom/image/fits/write';
import { addNoise, scene } from '@owl-loom/testing/random';
import { type RunningServer, startAll } from '../main/start';

process.env.LOOM_LOG = 'silent';

/** Size of the made stacks. */
export const [width, height] = [210, 150];
/** Headers of a raw upload. */
export const raw = { 'Content-Type': 'application/octet-stream' };

/** A made stack as a file; its sky rises by `lean` from the left side to the right. Its header may say more. */
export const fits = (
  seed: number,
  filter: string,
  lean = 0,
  more: { cards?: { key: string; value: string | number }[]; history?: string[] } = {},
): Buffer =>
  Buffer.concat([
    ...encodeFits({
      width,
      height,
      planes: [addNoise(scene(seed, width, height), 0, 1, 0.001, seed).map((v, i) => v + (lean * (i % width)) / width)],
      own: [{ key: 'FILTER', value: filter }, { key: 'EXPTIME', value: 600 }, ...(more.cards ?? [])],
      history: more.history,
    }),
  ]);

/** The least recipe that is a picture: one stack of hydrogen, stretched. */
export const hydrogen = (name: string) => ({
  format: 'owl-loom-recipe',
  version: 1,
  name,
  strands: [{ id: 'Ha', from: { stack: 'Ha' } }],
  cloth: { layers: [{ id: 'base', of: { strand: 'Ha' }, steps: [{ do: 'stretch' }] }] },
});

/** How a job ended. */
export interface JobEnd {
  readonly state: string;
  readonly message: string | null;
  readonly result: Record<string, unknown> | null;
}

/** Its threads give way to nobody: other tests at work would keep them from the core for good. */
const started = (root: string, uploadCap: number): Promise<RunningServer> =>
  startAll({ root, port: 0, uploadCap, gentle: false });

/** A server of its own on an empty folder, and what tests ask of it again and again. */
export class TestServer {
  private constructor(
    readonly root: string,
    private readonly uploadCap: number,
    public running: RunningServer,
  ) {}

  /** @param root of all data; a new folder where none is given */
  static async open(uploadCap = 2_000_000, root?: string): Promise<TestServer> {
    root ??= await mkdtemp(join(tmpdir(), 'owl-loom-api-'));
    return new TestServer(root, uploadCap, await started(root, uploadCap));
  }

  /** Stops the server and starts another on the same folder. */
  async restart(): Promise<void> {
    await this.running.stop();
    this.running = await started(this.root, this.uploadCap);
  }

  agent() {
    return request(this.running.address);
  }

  /** What a command of this user shows. */
  get own(): { readonly Authorization: string } {
    return { Authorization: `Bearer ${this.running.command.key}` };
  }

  async close(): Promise<void> {
    await this.running.stop();
    await rm(this.root, { recursive: true, force: true });
  }

  async jobEnds(id: string): Promise<JobEnd> {
    for (let i = 0; i < 400; i++) {
      const { body } = await this.agent().get('/api/jobs');
      const job = (body as (JobEnd & { id: string })[]).find((one) => one.id === id);
      if (job && !['queued', 'running'].includes(job.state)) return job;
      await delay(50);
    }
    throw new Error('the job did not end');
  }

  /** Removes something, and empties it out of the trash. */
  async removeAndEmptyTrash(kind: 'target' | 'stack' | 'recipe' | 'swatch' | 'export', id: string): Promise<void> {
    const list = kind === 'swatch' ? 'swatches' : `${kind}s`;
    await this.agent().delete(`/api/${list}/${id}`).expect(204);
    await this.agent().delete(`/api/trash/${kind}/${id}`).expect(204);
  }

  async newTarget(name: string): Promise<string> {
    return (await this.agent().post('/api/targets').send({ name }).expect(201)).body.id;
  }

  /** Adds a recipe; its id. */
  async newRecipe(target: string, body: object): Promise<string> {
    const { body: made } = await this.agent().post(`/api/targets/${target}/recipes`).send({ body }).expect(201);
    return made.id;
  }

  /** Uploads a file and waits for its import; gives the stack's id. */
  async bringIn(target: string, name: string, bytes: Buffer, more = ''): Promise<string> {
    const { body } = await this.agent()
      .put(`/api/targets/${target}/uploads?name=${name}${more}`)
      .set(raw)
      .send(bytes)
      .expect(202);
    const job = await this.jobEnds(body.job);
    if (job.state !== 'done') throw new Error(`the import failed: ${job.message}`);
    return String(job.result?.stackId);
  }

  async stacks(target: string) {
    return (await this.agent().get(`/api/targets/${target}/stacks`).expect(200)).body;
  }
}
