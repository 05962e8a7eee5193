import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { encodeFits } from '../core/fits/write';
import { type Running, startAll } from '../server/start';
import { HOME } from '../server/system/home';
import { Hand } from './hand';

process.env.LOOM_LOG = 'silent';

/** A made stack as a file, an hour through a filter. */
export const stackFile = (filter: string, plane: Float32Array, width: number, height: number): Buffer =>
  Buffer.concat([
    ...encodeFits({
      width,
      height,
      planes: [plane],
      own: [
        { key: 'FILTER', value: filter },
        { key: 'EXPTIME', value: 3600 },
      ],
    }),
  ]);

/** Owl Loom with the built page on an empty folder, and a person before it. */
export class Evening {
  private constructor(
    readonly root: string,
    readonly running: Running,
    readonly hand: Hand,
  ) {}

  static async begin(): Promise<Evening> {
    const root = await mkdtemp(join(tmpdir(), 'owl-loom-e2e-'));
    const running = await startAll({ root, port: 0, web: join(HOME, 'dist/web') });
    return new Evening(root, running, await Hand.open());
  }

  async end(): Promise<void> {
    await this.hand.close();
    await this.running.stop();
    await rm(this.root, { recursive: true, force: true });
  }
}
