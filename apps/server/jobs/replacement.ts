import { randomUUID } from 'node:crypto';
import type { PlaneSummary } from '@owl-loom/image/stats/summary';
import type { StackMetrics } from '@owl-loom/recipe/stack-replacement';
import { parseRecipe } from '@owl-loom/recipe/parse';
import { stepOwners, stackOf } from '@owl-loom/recipe/walk';
import { UserError } from '@owl-loom/base/errors';
import { RecipeEntity, RenewalEntity, RevisionEntity, type Stack, SwatchEntity } from '../storage/db/entities';
import type { JobRun } from '../queue/job-work';
import type { Services } from '../services/services';
import { renderSwatchPicture } from '../thumbnails/swatch';
import { insertRow } from '../storage/db/write-rows';

interface Measured {
  readonly planes: readonly PlaneSummary[];
  readonly stars: readonly { readonly fwhm: number | null }[];
}

const finite = (v: number | null | undefined): number | null =>
  typeof v === 'number' && Number.isFinite(v) ? v : null;

/** What is told of a stack: of a colour one, its first plane. */
export function stackMetricsOf({
  figures,
  exposure,
  width,
  height,
}: Pick<Stack, 'figures' | 'exposure' | 'width' | 'height'>): StackMetrics {
  const { planes, stars } = figures as Measured;
  return {
    noise: finite(planes[0]?.noise),
    sky: finite(planes[0]?.sky),
    fwhm: finite(stars[0]?.fwhm),
    exposure,
    width,
    height,
  };
}

/** A recipe as it was before a stack was renewed: its swatch, whose picture shows the old pixels. */
export interface RecipeSnapshot {
  readonly recipeId: string;
  readonly swatchId: string;
}

/**
 * Keeps each recipe that reads a stack as a swatch, with the picture of the stack as it still is. What cannot be woven has none, as its swatch
 * says.
 */
export async function snapshotRecipes(
  services: Services,
  stack: Stack,
  run: Pick<JobRun, 'signal' | 'progress'>,
): Promise<RecipeSnapshot[]> {
  const kept: RecipeSnapshot[] = [];
  for (const row of await services.data.getRepository(RecipeEntity).findBy({ targetId: stack.targetId })) {
    const newest = await services.data
      .getRepository(RevisionEntity)
      .findOneBy({ recipeId: row.id, number: row.revision });
    if (!newest || !reads(newest.body, stack.name)) continue;
    const swatchId = randomUUID();
    await insertRow(services.data.getRepository(SwatchEntity), {
      id: swatchId,
      targetId: stack.targetId,
      recipeId: row.id,
      name: row.name,
      note: `before the newer ${stack.name}`,
      body: newest.body,
      picture: null,
      trouble: null,
    });
    try {
      await renderSwatchPicture(services, swatchId, run);
    } catch (error) {
      if (!(error instanceof UserError) || run.signal.aborted) throw error;
      // Its swatch says why; a recipe at fault does not keep a stack from being renewed.
    }
    kept.push({ recipeId: row.id, swatchId });
  }
  return kept;
}

/** Whether a recipe reads a stack anywhere; one that cannot be read does not. */
function reads(body: unknown, stack: string): boolean {
  try {
    return [...stepOwners(parseRecipe(body))].some(({ source }) => source && stackOf(source) === stack);
  } catch (error) {
    if (error instanceof UserError) return false;
    throw error;
  }
}

/** Remembers that a stack was renewed, until someone has seen it. */
export async function recordReplacement(
  services: Services,
  before: Stack,
  after: StackMetrics,
  kept: readonly RecipeSnapshot[],
): Promise<void> {
  const table = services.data.getRepository(RenewalEntity);
  await table.delete({ stackId: before.id });
  await insertRow(table, {
    id: randomUUID(),
    targetId: before.targetId,
    stackId: before.id,
    stackName: before.name,
    before: stackMetricsOf(before),
    after,
    kept,
  });
}
