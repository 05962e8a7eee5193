import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { type DataSource, In } from 'typeorm';
import { wcsOf } from '@owl-loom/image/fits/wcs';
import type { StackInfo } from '@owl-loom/engine/graph';
import { contentKey } from '@owl-loom/base/content-hash';
import { JobEntity, type Stack, StackEntity } from '../storage/db/entities';
import { pyramidDir } from '../render/pyramid';
import type { OpenStack } from '../pixels/open-stack';
import type { Services } from './services';

/** What decides on a stack's pixels. */
export type PixelSpec = Pick<Stack, 'hash' | 'divisor'> & { readonly edgesBlank: boolean };

/** Name of a stack's pixels: the same file taken in the same way has the same. */
export const pixelId = ({ hash, divisor, edgesBlank }: PixelSpec): string =>
  contentKey(edgesBlank ? [hash, divisor, 'edges blank'] : [hash, divisor]);

/** File of an imported stack. */
export const stackFile = (root: string, hash: string): string => join(root, 'stacks', `${hash}.fits`);

/** A stored stack as the engine sees it. */
export function stackInfo(stack: Stack): StackInfo {
  return {
    id: pixelId(stack),
    width: stack.width,
    height: stack.height,
    planes: stack.planes === 3 ? 3 : 1,
    domain: stack.domain === 'stretched' ? 'stretched' : 'linear',
    exposure: stack.exposure ?? undefined,
    wcs: wcsOf(stack.cards, stack.height, Boolean(stack.topDown)),
  };
}

/** A target's stacks ready for rendering, by name. */
export async function openStacks(services: Services, targetId: string): Promise<Map<string, OpenStack>> {
  const rows = await services.data.getRepository(StackEntity).findBy({ targetId });
  return new Map(
    rows.map((row): [string, OpenStack] => {
      const info = stackInfo(row);
      return [
        row.name,
        {
          info,
          source: {
            kind: 'pyramid',
            dir: pyramidDir(services.root, info.id),
            width: row.width,
            height: row.height,
            planes: info.planes,
          },
          name: row.fileName,
          cards: row.cards,
          topDown: Boolean(row.topDown),
          type: row.type,
          filter: row.filter ?? undefined,
          divisor: row.divisor,
        },
      ];
    }),
  );
}

/** Imports that are under way or still to come, of a file where one is named. */
export async function importsUnderWay(data: DataSource): Promise<{ id: string; hash?: string }[]> {
  const jobs = await data.getRepository(JobEntity).findBy({ kind: 'import', state: In(['queued', 'running']) });
  return jobs.map(({ id, payload }) => ({ id, hash: (payload as { hash?: string }).hash }));
}

/**
 * Removes a stack's files where no target holds it any more, be it in the trash, and no import needs them.
 * @param except the import that has just ended
 */
export const deleteUnreferenced = (services: Services, stack: PixelSpec, except?: string): Promise<void> =>
  services.deletionLock.deleteWhenAllowed(() =>
    services.fileMutex.runExclusive(stack.hash, () => dropNow(services, stack, except)),
  );

async function dropNow(services: Services, stack: PixelSpec, except: string | undefined): Promise<void> {
  const left = await services.data.getRepository(StackEntity).find({ where: { hash: stack.hash }, withDeleted: true });
  const coming = await importsUnderWay(services.data);
  if (coming.some(({ id, hash }) => id !== except && hash === stack.hash)) return;
  const id = pixelId(stack);
  if (!left.some((other) => pixelId(other) === id)) {
    await rm(pyramidDir(services.root, id), { recursive: true, force: true });
  }
  if (left.length === 0) await rm(stackFile(services.root, stack.hash), { force: true });
}
