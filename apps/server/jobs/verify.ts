import { many } from '@owl-loom/base/join-words';
import { existsSync } from 'node:fs';
import { readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { type VerifyFault, type VerifyReport, CHECKED } from '@owl-loom/api/jobs';
import { UserError, userMessageOf } from '@owl-loom/base/errors';
import { parseRecipe } from '@owl-loom/recipe/parse';
import {
  ExportEntity,
  RecipeEntity,
  RevisionEntity,
  type Stack,
  StackEntity,
  SwatchEntity,
  TargetEntity,
} from '../storage/db/entities';
import { pyramidDir } from '../render/pyramid';
import type { JobHandler, JobRun } from '../queue/job-work';
import { isCachedImage } from '../storage/disk-image-cache';
import { missingFileError, lookAtFile } from '../storage/original-file';
import { logMaintenance } from '../storage/maintenance-log';
import { pixelId } from '../services/stacks';
import { exportFile } from '../services/export-files';
import type { Services } from '../services/services';
import { swatchesDir, requestSwatchPicture } from '../thumbnails/swatch';
import { checkPyramidOf, repairNow } from '../storage/integrity';

/** One look: a thing, and what is wrong with it; undefined where nothing is. */
type Look = () => Promise<Omit<VerifyFault, 'what'> | undefined>;

/** Goes through all that is kept, file by file, and puts right what can be put right where that is asked for. */
export const verifyJob =
  (services: Services): JobHandler<'verify'> =>
  async (run) => {
    const { repair } = run.payload;
    const looks: [VerifyFault['what'], Look][] = [
      ...(await tables(services)),
      ...(await files(services)),
      ...(await pixels(services, repair)),
      ...(await images(services, repair)),
      ...(await exports(services)),
      ...(await swatches(services, repair)),
      ...(await recipes(services)),
    ];
    const report = await through(looks, run);
    const left = report.faults.filter(({ mended }) => !mended).length;
    const found = report.faults.length;
    const says = found === 0 ? 'no problems' : `${many(found, 'problem')}, ${found - left} repaired`;
    await logMaintenance(services, left > 0 ? 'damaged' : 'mended', `Check finished: ${says}.`);
    return report;
  };

async function through(
  looks: [VerifyFault['what'], Look][],
  { signal, progress }: Pick<JobRun, 'signal' | 'progress'>,
): Promise<VerifyReport> {
  const looked = Object.fromEntries(CHECKED.map((what) => [what, 0])) as VerifyReport['looked'];
  const faults: VerifyFault[] = [];
  for (const [i, [what, look]] of looks.entries()) {
    signal.throwIfAborted();
    looked[what]++;
    const found = await look();
    if (found) faults.push({ what, ...found });
    progress((i + 1) / looks.length);
  }
  return { looked, faults };
}

/** What a stack is called where several targets are looked through. */
async function callStacks(services: Services): Promise<{ row: Stack; called: string }[]> {
  const targets = await services.data.getRepository(TargetEntity).find({ withDeleted: true });
  const names = new Map(targets.map(({ id, name }) => [id, name]));
  const rows = await services.data.getRepository(StackEntity).find({ withDeleted: true, order: { createdAt: 'ASC' } });
  return rows.map((row) => ({ row, called: `${row.name} of ${names.get(row.targetId) ?? 'a target that is gone'}` }));
}

async function tables(services: Services): Promise<['database', Look][]> {
  const rows: Record<string, string>[] = await services.data.query('SHOW TABLES');
  return rows
    .flatMap((row) => Object.values(row))
    .map((name) => [
      'database',
      async () => {
        const messages: { Msg_type: string; Msg_text: string }[] = await services.data.query(`CHECK TABLE \`${name}\``);
        const error = messages.find(({ Msg_type }) => Msg_type.toLowerCase() === 'error');
        return error && { says: `The table ${name} is damaged: ${error.Msg_text}.`, mended: false };
      },
    ]);
}

async function files(services: Services): Promise<['file', Look][]> {
  const byHash = new Map((await callStacks(services)).map((one) => [one.row.hash, one]));
  return [...byHash.values()].map(({ row, called }) => [
    'file',
    async () => {
      const { lacking } = await lookAtFile(services, row);
      return lacking ? { says: missingFileError({ ...row, name: called, lacking }).message, mended: false } : undefined;
    },
  ]);
}

async function pixels(services: Services, repair: boolean): Promise<['pixels', Look][]> {
  const byPixels = new Map((await callStacks(services)).map((one) => [pixelId(one.row), one]));
  return [...byPixels.values()].map(({ row, called }) => [
    'pixels',
    async () => {
      // After a restored backup they are made when they are first needed, which is no damage.
      const isMade = existsSync(pyramidDir(services.root, pixelId(row)));
      if (!isMade && !repair) return undefined;
      const found = await checkPyramidOf(services, row);
      if (found === 'whole') return undefined;
      const why = found === 'unsummed' ? 'they were written before sums were kept' : found.why;
      const says =
        found === 'unsummed'
          ? `Pixel data of ${called} has no checksum (written by an older version).`
          : `Pixel data of ${called} is damaged: ${why}.`;
      if (!repair) return { says, mended: false };
      try {
        await repairNow(services, row, why);
        return isMade ? { says, mended: true } : undefined;
      } catch (error) {
        if (!(error instanceof UserError)) throw error;
        return { says: `${says} ${error.message}`, mended: false };
      }
    },
  ]);
}

async function images(services: Services, repair: boolean): Promise<['image', Look][]> {
  const names = (await readdir(join(services.root, 'pixels'))).filter((name) => isCachedImage(services.root, name));
  return names.map((name) => [
    'image',
    async () => {
      const dir = pyramidDir(services.root, name);
      const found = await services.pool.check(dir);
      if (typeof found === 'string' || !existsSync(dir)) return undefined;
      // It is made anew when it is wanted.
      if (repair) await rm(dir, { recursive: true, force: true });
      return { says: `The cached image ${name} is damaged: ${found.why}.`, mended: repair };
    },
  ]);
}

async function exports(services: Services): Promise<['export', Look][]> {
  const rows = await services.data.getRepository(ExportEntity).find({ withDeleted: true });
  return rows.map(({ id, format, fileName, sum }) => [
    'export',
    async () => {
      const path = exportFile(services.root, id, format);
      const again = 'export it again from its recipe';
      if (!existsSync(path)) return { says: `The exported file ${fileName} is missing; ${again}.`, mended: false };
      if (sum === null || (await services.pool.hash(path)) === sum) return undefined;
      return { says: `The exported file ${fileName} does not match its checksum; ${again}.`, mended: false };
    },
  ]);
}

async function swatches(services: Services, repair: boolean): Promise<['swatch', Look][]> {
  const table = services.data.getRepository(SwatchEntity);
  const rows = await table.find({ withDeleted: true });
  return rows.map((row) => [
    'swatch',
    async () => {
      if (!row.picture || existsSync(join(swatchesDir(services.root), row.picture))) return undefined;
      if (repair) {
        await table.update(row.id, { picture: null });
        await requestSwatchPicture(services, row);
      }
      return { says: `The picture of the swatch ${row.name} is gone.`, mended: repair };
    },
  ]);
}

async function recipes(services: Services): Promise<['recipe', Look][]> {
  const rows = await services.data.getRepository(RecipeEntity).find({ withDeleted: true });
  const table = services.data.getRepository(RevisionEntity);
  return rows.map(({ id, name, revision }) => [
    'recipe',
    async () => {
      const newest = await table.findOneBy({ recipeId: id, number: revision });
      if (!newest) return { says: `The newest state of the recipe ${name} is gone.`, mended: false };
      try {
        parseRecipe(newest.body);
        return undefined;
      } catch (error) {
        return { says: `The recipe ${name} cannot be read: ${userMessageOf(error)}`, mended: false };
      }
    },
  ]);
}
