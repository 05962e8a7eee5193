import { existsSync } from 'node:fs';
import { readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { UserError, userMessageOf } from '#base/errors';
import { parseRecipe } from '#recipe/parse';
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
import type { JobHandler, JobRun } from '../queue/job-queue';
import { isCachedImage } from '../storage/disk-image-cache';
import { missingFileError, lookAtFile } from './repair';
import { logMaintenance } from '../maintenance/log';
import { type Services, exportFile, pixelId } from '../services';
import { swatchesDir, requestSwatchPicture } from '../thumbnails/swatch';
import { checkPyramidOf, repairNow } from '../storage/integrity';

export const verifyPayload = z.strictObject({ repair: z.boolean().default(false) });

/** Something that is not as it should be. */
export interface VerifyFault {
  readonly what: 'file' | 'pixels' | 'image' | 'export' | 'swatch' | 'recipe' | 'database';
  readonly says: string;
  /** Whether it has been put right. */
  readonly mended: boolean;
}

/** What a look through everything found. */
export interface VerifyReport {
  /** How many of each were looked at. */
  readonly looked: Record<VerifyFault['what'], number>;
  readonly faults: readonly VerifyFault[];
}

/** One look: a thing, and what is wrong with it; undefined where nothing is. */
type Look = () => Promise<Omit<VerifyFault, 'what'> | undefined>;

/** Goes through all that is kept, file by file, and puts right what can be put right where that is asked for. */
export const verifyJob =
  (studio: Services): JobHandler =>
  async (run): Promise<VerifyReport> => {
    const { repair } = verifyPayload.parse(run.job.payload);
    const looks: [VerifyFault['what'], Look][] = [
      ...(await tables(studio)),
      ...(await files(studio)),
      ...(await pixels(studio, repair)),
      ...(await images(studio, repair)),
      ...(await exports(studio)),
      ...(await swatches(studio, repair)),
      ...(await recipes(studio)),
    ];
    const report = await through(looks, run);
    const left = report.faults.filter(({ mended }) => !mended).length;
    const found = report.faults.length;
    const says = found === 0 ? 'all is well' : `${found} faults, ${found - left} of them put right`;
    await logMaintenance(studio, left > 0 ? 'damaged' : 'mended', `Looked through everything: ${says}.`);
    return report;
  };

async function through(looks: [VerifyFault['what'], Look][], { signal, progress }: JobRun): Promise<VerifyReport> {
  const looked = { file: 0, pixels: 0, image: 0, export: 0, swatch: 0, recipe: 0, database: 0 };
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
async function callStacks(studio: Services): Promise<{ row: Stack; called: string }[]> {
  const targets = await studio.data.getRepository(TargetEntity).find({ withDeleted: true });
  const names = new Map(targets.map(({ id, name }) => [id, name]));
  const rows = await studio.data.getRepository(StackEntity).find({ withDeleted: true, order: { createdAt: 'ASC' } });
  return rows.map((row) => ({ row, called: `${row.name} of ${names.get(row.targetId) ?? 'a target that is gone'}` }));
}

async function tables(studio: Services): Promise<['database', Look][]> {
  const rows: Record<string, string>[] = await studio.data.query('SHOW TABLES');
  return rows
    .flatMap((row) => Object.values(row))
    .map((name) => [
      'database',
      async () => {
        const told: { Msg_type: string; Msg_text: string }[] = await studio.data.query(`CHECK TABLE \`${name}\``);
        const fault = told.find(({ Msg_type }) => Msg_type.toLowerCase() === 'error');
        return fault && { says: `The table ${name} is damaged: ${fault.Msg_text}.`, mended: false };
      },
    ]);
}

async function files(studio: Services): Promise<['file', Look][]> {
  const byHash = new Map((await callStacks(studio)).map((one) => [one.row.hash, one]));
  return [...byHash.values()].map(({ row, called }) => [
    'file',
    async () => {
      const { lacking } = await lookAtFile(studio, row);
      return lacking ? { says: missingFileError({ ...row, name: called, lacking }).message, mended: false } : undefined;
    },
  ]);
}

async function pixels(studio: Services, repair: boolean): Promise<['pixels', Look][]> {
  const byPixels = new Map((await callStacks(studio)).map((one) => [pixelId(one.row), one]));
  return [...byPixels.values()].map(({ row, called }) => [
    'pixels',
    async () => {
      // After a restored backup they are made when they are first needed, which is no damage.
      const isMade = existsSync(pyramidDir(studio.root, pixelId(row)));
      if (!isMade && !repair) return undefined;
      const found = await checkPyramidOf(studio, row);
      if (found === 'whole') return undefined;
      const why = found === 'unsummed' ? 'they were written before sums were kept' : found.why;
      const says =
        found === 'unsummed'
          ? `The pixels of ${called} have no sums to tell by, since an earlier version wrote them before sums were kept.`
          : `The pixels of ${called} are damaged: ${why}.`;
      if (!repair) return { says, mended: false };
      try {
        await repairNow(studio, row, why);
        return isMade ? { says, mended: true } : undefined;
      } catch (fault) {
        if (!(fault instanceof UserError)) throw fault;
        return { says: `${says} ${fault.message}`, mended: false };
      }
    },
  ]);
}

async function images(studio: Services, repair: boolean): Promise<['image', Look][]> {
  const names = (await readdir(join(studio.root, 'pixels'))).filter((name) => isCachedImage(studio.root, name));
  return names.map((name) => [
    'image',
    async () => {
      const dir = pyramidDir(studio.root, name);
      const found = await studio.pool.check(dir);
      if (typeof found === 'string' || !existsSync(dir)) return undefined;
      // It is made anew when it is wanted.
      if (repair) await rm(dir, { recursive: true, force: true });
      return { says: `The kept image ${name} is damaged: ${found.why}.`, mended: repair };
    },
  ]);
}

async function exports(studio: Services): Promise<['export', Look][]> {
  const rows = await studio.data.getRepository(ExportEntity).find({ withDeleted: true });
  return rows.map(({ id, format, fileName, sum }) => [
    'export',
    async () => {
      const path = exportFile(studio.root, id, format);
      const again = 'write it again from its recipe';
      if (!existsSync(path)) return { says: `The written file ${fileName} is gone; ${again}.`, mended: false };
      if (sum === null || (await studio.pool.hash(path)) === sum) return undefined;
      return { says: `The written file ${fileName} is not what was written; ${again}.`, mended: false };
    },
  ]);
}

async function swatches(studio: Services, repair: boolean): Promise<['swatch', Look][]> {
  const table = studio.data.getRepository(SwatchEntity);
  const rows = await table.find({ withDeleted: true });
  return rows.map((row) => [
    'swatch',
    async () => {
      if (!row.picture || existsSync(join(swatchesDir(studio.root), row.picture))) return undefined;
      if (repair) {
        await table.update(row.id, { picture: null });
        await requestSwatchPicture(studio, row);
      }
      return { says: `The picture of the swatch ${row.name} is gone.`, mended: repair };
    },
  ]);
}

async function recipes(studio: Services): Promise<['recipe', Look][]> {
  const rows = await studio.data.getRepository(RecipeEntity).find({ withDeleted: true });
  const table = studio.data.getRepository(RevisionEntity);
  return rows.map(({ id, name, revision }) => [
    'recipe',
    async () => {
      const newest = await table.findOneBy({ recipeId: id, number: revision });
      if (!newest) return { says: `The newest state of the recipe ${name} is gone.`, mended: false };
      try {
        parseRecipe(newest.body);
        return undefined;
      } catch (fault) {
        return { says: `The recipe ${name} cannot be read: ${userMessageOf(fault)}`, mended: false };
      }
    },
  ]);
}
