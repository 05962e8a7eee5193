import { LRUCache } from 'lru-cache';
import { liesWell, lieOf } from '../../core/align/say';
import { figuresFor } from '../../core/engine/plan';
import { UserError } from '../../core/errors';
import { figureOf } from '../../core/figures/index';
import { type Ground, lieRecipe } from '../../core/palette/begin';
import { byFilter } from '../../core/stack/filter';
import { type Stack, StackEntity } from '../db/entities';
import { Executor } from '../render/executor';
import { sceneOf } from '../render/scene';
import type { OpenStack } from '../render/stack';
import { figureStore } from './figure-store';
import { openStacks, pixelId, type Studio } from './studio';

/** Whether something is so; `structures` where they alone tell that it is, `untold` where nothing does. */
type Verdict = boolean | 'structures' | 'untold';

/** What was judged already, by the pixels that it was judged from: it never changes. */
const judged = new LRUCache<string, Verdict>({ max: 2000 });

async function once(key: string, judge: () => Promise<Verdict>): Promise<Verdict> {
  const known = judged.get(key);
  if (known !== undefined) return known;
  const found = await judge();
  judged.set(key, found);
  return found;
}

/** How a stack lies on the reference, by one way of aligning. */
async function askewBy(
  by: 'stars' | 'structures',
  studio: Studio,
  row: Stack,
  reference: Stack,
  stacks: Map<string, OpenStack>,
): Promise<Verdict> {
  const recipe = lieRecipe(row.name, reference.name, by === 'structures' ? by : undefined);
  const { graph, scene } = sceneOf(recipe, stacks);
  const node = graph.byPath.get('strands[1]');
  if (node === undefined) return false;
  const executor = new Executor(studio.pool, graph, scene, { store: figureStore(studio.data), urgent: true });
  try {
    await executor.measure(node);
  } catch (error) {
    // A step that cannot be measured would keep the picture from being woven.
    if (error instanceof UserError) return 'untold';
    throw error;
  }
  const align = figuresFor(graph, node)
    .map(({ key }) => executor.figures.get(key))
    .find((figure) => figure?.kind === 'align');
  if (align === undefined || liesWell(lieOf(figureOf('align', align).map, row))) return false;
  return by === 'structures' ? by : true;
}

/** By stars, and where those are too few by the structures that both show. */
const isAskew = (studio: Studio, row: Stack, reference: Stack, stacks: Map<string, OpenStack>): Promise<Verdict> =>
  once(`${pixelId(row)} on ${pixelId(reference)}`, async () => {
    const verdict = await askewBy('stars', studio, row, reference, stacks);
    return verdict === 'untold' ? askewBy('structures', studio, row, reference, stacks) : verdict;
  });

const isUneven = (studio: Studio, row: Stack, stacks: Map<string, OpenStack>): Promise<Verdict> =>
  once(`${pixelId(row)} uneven`, async () => {
    const stack = stacks.get(row.name);
    if (!stack || row.domain === 'stretched') return false;
    const noise = row.figures.planes.map((plane) => plane.noise);
    const { width, height } = row;
    return studio.pool.uneven({ source: stack.source, width, height, noise }, { urgent: true });
  });

/** Broadband stacks have most stars to lie on, and most often lie alike. */
const REFERENCES = ['L', 'R', 'G'];

/** What is known of a target's stacks before anything is woven from them: which lie askew, which skies are uneven. */
export async function groundOf(studio: Studio, targetId: string): Promise<Ground> {
  const found = await studio.data.getRepository(StackEntity).find({ where: { targetId }, order: { createdAt: 'ASC' } });
  const rows = found.sort((a, b) => byFilter(a.filter, b.filter));
  const stacks = await openStacks(studio, targetId);
  const reference =
    REFERENCES.map((filter) => rows.find((row) => row.filter === filter)).find((row) => row !== undefined) ?? rows[0];
  const judgements = await Promise.all(
    rows.map(async (row) => ({
      name: row.name,
      lie: row !== reference && (await isAskew(studio, row, reference, stacks)),
      uneven: (await isUneven(studio, row, stacks)) === true,
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
