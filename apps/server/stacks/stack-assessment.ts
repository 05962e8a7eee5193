import { LRUCache } from 'lru-cache';
import { isAligned, misalignmentOf } from '@owl-loom/algorithms/registration/misalignment';
import { measurementsRequiredBy } from '@owl-loom/engine/measurement-plan';
import { UserError } from '@owl-loom/base/errors';
import { expectKind } from '@owl-loom/engine/measurements/index';
import { type StackAssessment, alignmentCheckRecipe } from '@owl-loom/recipe/palettes/prepare';
import { compareFilters } from '@owl-loom/image/metadata/filter';
import { type Stack, StackEntity } from '../storage/db/entities';
import { GraphExecutor } from '../render/graph-executor';
import { buildGraphInput } from '../render/build-graph-input';
import type { OpenStack } from '../pixels/open-stack';
import { measurementStore } from '../storage/measurement-store';
import { openStacks, pixelId } from '../services/stacks';
import type { Services } from '../services/services';
import { isIntact } from '../storage/integrity';

/** Whether something is so; `structures` where they alone tell that it is, `untold` where nothing does. */
type Assessment = boolean | 'structures' | 'untold';

/** What was judged already, by the pixels that it was judged from: it never changes. */
const judged = new LRUCache<string, Assessment>({ max: 2000 });

/** Judges from stacks whose pixels are whole; `untold` for now where they are not and cannot be made anew. */
async function memoise(
  key: string,
  services: Services,
  rows: readonly Stack[],
  judge: () => Promise<Assessment>,
): Promise<Assessment> {
  const known = judged.get(key);
  if (known !== undefined) return known;
  const intact = await Promise.all(rows.map((row) => isIntact(services, row)));
  if (!intact.every(Boolean)) return 'untold';
  const found = await judge();
  judged.set(key, found);
  return found;
}

/** How a stack lies on the reference, by one way of aligning. */
async function askewBy(
  by: 'stars' | 'structures',
  services: Services,
  row: Stack,
  reference: Stack,
  stacks: Map<string, OpenStack>,
): Promise<Assessment> {
  const recipe = alignmentCheckRecipe(row.name, reference.name, by === 'structures' ? by : undefined);
  const { graph, scene } = buildGraphInput(recipe, stacks);
  const node = graph.byPath.get('strands[1]');
  if (node === undefined) return false;
  const executor = new GraphExecutor(services.pool, graph, scene, {
    store: measurementStore(services.data),
    interactive: true,
  });
  try {
    await executor.measure(node);
  } catch (error) {
    // A step that cannot be measured would keep the picture from being woven.
    if (error instanceof UserError) return 'untold';
    throw error;
  }
  const align = measurementsRequiredBy(graph, node)
    .map(({ key }) => executor.figures.get(key))
    .find((figure) => figure?.kind === 'align');
  if (align === undefined || isAligned(misalignmentOf(expectKind('align', align).map, row))) return false;
  return by === 'structures' ? by : true;
}

/** By stars, and where those are too few by the structures that both show. */
const isMisaligned = (
  services: Services,
  row: Stack,
  reference: Stack,
  stacks: Map<string, OpenStack>,
): Promise<Assessment> =>
  memoise(`${pixelId(row)} on ${pixelId(reference)}`, services, [row, reference], async () => {
    const verdict = await askewBy('stars', services, row, reference, stacks);
    return verdict === 'untold' ? askewBy('structures', services, row, reference, stacks) : verdict;
  });

const isUneven = (services: Services, row: Stack, stacks: Map<string, OpenStack>): Promise<Assessment> =>
  memoise(`${pixelId(row)} uneven`, services, [row], async () => {
    const stack = stacks.get(row.name);
    if (!stack || row.domain === 'stretched') return false;
    const noise = row.figures.planes.map((plane) => plane.noise);
    const { width, height } = row;
    return services.pool.uneven({ source: stack.source, width, height, noise }, { interactive: true });
  });

/** Broadband stacks have most stars to lie on, and most often lie alike. */
const REFERENCES = ['L', 'R', 'G'];

/** What is known of a target's stacks before anything is woven from them: which lie askew, which skies are uneven. */
export async function assessStacks(services: Services, targetId: string): Promise<StackAssessment> {
  const found = await services.data
    .getRepository(StackEntity)
    .find({ where: { targetId }, order: { createdAt: 'ASC' } });
  const rows = found.sort((a, b) => compareFilters(a.filter, b.filter));
  const stacks = await openStacks(services, targetId);
  const reference =
    REFERENCES.map((filter) => rows.find((row) => row.filter === filter)).find((row) => row !== undefined) ?? rows[0];
  const judgements = await Promise.all(
    rows.map(async (row) => ({
      name: row.name,
      lie: row !== reference && (await isMisaligned(services, row, reference, stacks)),
      uneven: (await isUneven(services, row, stacks)) === true,
    })),
  );
  const those = (which: (of: (typeof judgements)[number]) => boolean) =>
    judgements.filter(which).map(({ name }) => name);
  return {
    reference: reference?.name,
    askew: those(({ lie }) => lie === true || lie === 'structures'),
    byStructures: those(({ lie }) => lie === 'structures'),
    untold: those(({ lie }) => lie === 'untold'),
    uneven: those(({ uneven }) => uneven),
  };
}
