import { MEASUREMENT_KINDS } from '@owl-loom/engine/measurements/index';
import { userMessageOf } from '@owl-loom/base/errors';
import type { Graph } from '@owl-loom/engine/graph';
import { unmeasurable } from '@owl-loom/engine/measurements/failures';
import { imageName } from '@owl-loom/recipe/names';
import { parseRecipe } from '@owl-loom/recipe/parse';
import { GraphExecutor } from '../render/graph-executor';
import type { Measuring } from '../render/run-options';
import { buildGraphInput } from '../render/build-graph-input';
import type { JobHandler } from '../queue/job-work';
import { cachedImagesOf } from '../storage/disk-image-cache';
import { measurementStore } from '../storage/measurement-store';
import { openStacks } from '../services/stacks';
import type { Services } from '../services/services';
import { ensureIntact } from '../storage/integrity';
import { measurementsForRequest } from '../storage/known-measurements';

/** Which measurement is at work, as people read it: "the stars of Ha, 2 of 5". */
const measuringInWords = ({ nodes, recipe }: Graph, { spec, number, of }: Measuring): string =>
  `${MEASUREMENT_KINDS[spec.kind].called} ${imageName(recipe, nodes[spec.nodes[0]].path)}, ${number} of ${of}`;

/**
 * Measures what is missing; the measurements go into the database, where the page asks for them again. What the images do not allow to measure is
 * remembered; the job fails where the picture of a path depends on it.
 */
export const measureJob =
  (services: Services): JobHandler<'measure'> =>
  async ({ payload, targetId, signal, progress, doing }) => {
    const { paths, also } = payload;
    const recipe = parseRecipe(payload.recipe);
    await ensureIntact(services, targetId, { recipe, interactive: true });
    const stacks = await openStacks(services, targetId);
    const { graph, scene } = buildGraphInput(recipe, stacks);
    const store = measurementStore(services.data);
    const stored = await cachedImagesOf(services, graph, recipe);
    const onMeasuring = (now: Measuring) => doing(measuringInWords(graph, now));
    const how = { signal, onProgress: progress, onMeasuring, store, stored, interactive: true, pastFailures: true };
    const isLost = unmeasurable(graph, services.unmeasurable);
    const executor = new GraphExecutor(services.pool, graph, scene, how);
    try {
      await executor.measure(
        undefined,
        measurementsForRequest(graph, { paths, also }).filter((item) => !isLost(item)),
      );
    } catch (error) {
      for (const [key, error] of executor.failures) services.unmeasurable.set(key, userMessageOf(error));
      const isNeeded = measurementsForRequest(graph, { paths, also: [] }).some(
        unmeasurable(graph, services.unmeasurable),
      );
      if (executor.failures.size === 0 || isNeeded) throw error;
    }
    return null;
  };
