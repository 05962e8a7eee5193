import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { frameImageId } from '@owl-loom/engine/graph';
import { contentKey } from '@owl-loom/base/content-hash';
import { userMessageOf, UserError } from '@owl-loom/base/errors';
import { parseRecipe } from '@owl-loom/recipe/parse';
import { ExportEntity, RecipeEntity, type Revision, RevisionEntity } from '../storage/db/entities';
import { writeAtomically } from '../system/write-atomically';
import { resolveNode } from '../render/render';
import { buildGraphInput } from '../render/build-graph-input';
import type { JobHandler, JobRun } from '../queue/job-work';
import { PICTURE_NAME } from './read-thumbnail';
import { openStacks } from '../services/stacks';
import type { Services } from '../services/services';
import { revisionsToPrune } from '../storage/prune-revisions';
import { renderThumbnail } from './render-thumbnail';
import { ensureIntact } from '../storage/integrity';

export const pastDir = (root: string): string => join(root, 'past');

/** Pixels across that the picture of an earlier state has at least, where the stacks have as many: it is looked at large. */
const ACROSS = 1400;
/** Pictures of earlier states that are kept; they are woven again when they are looked at. */
const MOST = 400;

/** Names of the pictures of earlier states, by state. */
export async function pastPictures(services: Services): Promise<Map<string, string>> {
  const names = (await readdir(pastDir(services.root))).filter((name) => PICTURE_NAME.test(name));
  return new Map(names.map((name) => [name.slice(0, 36), name]));
}

/** Has the picture of an earlier state woven, where it is not there. */
export async function requestRevisionThumbnail(services: Services, { id, recipeId }: Revision): Promise<string | null> {
  const there = (await pastPictures(services)).get(id);
  if (there || services.renderErrors.has(id)) return there ?? null;
  const recipe = await services.data.getRepository(RecipeEntity).findOneByOrFail({ id: recipeId });
  const payload = { revisionId: id };
  if (!(await services.jobs.isPending('past', recipe.targetId, payload)))
    await services.jobs.add('past', recipe.targetId, `an earlier state of ${recipe.name}`.slice(0, 255), payload);
  return null;
}

/** Weaves the picture of an earlier state from a coarse level of the stacks as they are now. */
export const revisionThumbnailJob =
  (services: Services): JobHandler<'past'> =>
  async (run) => {
    const { revisionId } = run.payload;
    const revision = await services.data.getRepository(RevisionEntity).findOneBy({ id: revisionId });
    if (!revision || (await pastPictures(services)).has(revisionId)) return null;
    try {
      const name = await woven(services, revision, run);
      await dropOldest(services);
      return { revisionId, name };
    } catch (error) {
      if (error instanceof UserError && !run.signal.aborted)
        services.renderErrors.set(revisionId, userMessageOf(error));
      throw error;
    }
  };

async function woven(services: Services, { id, body }: Revision, run: JobRun): Promise<string> {
  const recipe = parseRecipe(body);
  await ensureIntact(services, run.targetId, { recipe });
  const { graph, scene } = buildGraphInput(recipe, await openStacks(services, run.targetId));
  const node = resolveNode(graph, recipe);
  const bytes = await renderThumbnail(services, { graph, scene, recipe, node }, run, ACROSS);
  const name = `${id}.${contentKey(frameImageId(graph, node))}.jpg`;
  await writeAtomically(join(pastDir(services.root), name), [bytes]);
  return name;
}

async function dropOldest(services: Services): Promise<void> {
  const names = [...(await pastPictures(services)).values()];
  if (names.length <= MOST) return;
  const aged = await Promise.all(
    names.map(async (name) => ({ name, at: (await stat(join(pastDir(services.root), name))).mtimeMs })),
  );
  for (const { name } of aged.sort((a, b) => a.at - b.at).slice(0, names.length - MOST))
    await dropPicture(services, name);
}

const dropPicture = (services: Services, name: string): Promise<void> =>
  rm(join(pastDir(services.root), name), { force: true });

/** Lets go of the earlier states of a recipe that its age allows to, see `../storage/prune-revisions`. */
export async function pruneRevisions(services: Services, recipeId: string, now = Date.now()): Promise<void> {
  const table = services.data.getRepository(RevisionEntity);
  const select = { id: true, number: true, conflict: true, label: true, createdAt: true } as const;
  const states = await table.find({ where: { recipeId }, select });
  const files = await services.data
    .getRepository(ExportEntity)
    .find({ where: { recipeId }, select: { revision: true }, withDeleted: true });
  const gone = revisionsToPrune(states, new Set(files.map(({ revision }) => revision)), now);
  if (gone.length === 0) return;
  await table.delete(gone);
  const pictures = await pastPictures(services);
  for (const id of gone) {
    const name = pictures.get(id);
    if (name) await dropPicture(services, name);
  }
}

/** A state by its id. */
export async function revisionOf(services: Services, id: unknown): Promise<Revision> {
  const revision =
    typeof id === 'string' && id.length <= 36
      ? await services.data.getRepository(RevisionEntity).findOneBy({ id })
      : null;
  if (!revision) throw new UserError('no-state', 'There is no such version; it may have been deleted.');
  return revision;
}
