import type { Graph } from '@owl-loom/engine/graph';
import { measurementKeyIn, type KeyedMeasurement, withKey } from '@owl-loom/engine/measurement-plan';
import { UserError } from '@owl-loom/base/errors';
import type { Measurement } from '@owl-loom/engine/measurements/index';
import { intersect, isEmpty, type Rect } from '@owl-loom/image/geometry/rect';
import { uprightWithin } from '@owl-loom/image/geometry/turned';
import type { Recipe } from '@owl-loom/recipe/schema';

/** What must be measured to know which part of the frame a finished cloth shows. */
export const extentMeasurements = (graph: Graph): KeyedMeasurement[] =>
  graph.commonAreaSpec ? [withKey(graph, graph.commonAreaSpec)] : [];

/**
 * The part of the frame that a finished cloth shows, in full-size pixels.
 * @throws UserError where the recipe's own rectangle lies outside the frame
 */
export function clothExtent(graph: Graph, recipe: Recipe, figures: ReadonlyMap<string, Measurement>): Rect {
  const wanted = recipe.cloth?.extent;
  const common = graph.commonAreaSpec && figures.get(measurementKeyIn(graph, graph.commonAreaSpec));
  if (common?.kind === 'common') return uprightWithin(common.rect, recipe.cloth?.orient?.degrees ?? 0);
  return typeof wanted === 'object' ? wholePixels(wanted, graph.frame) : graph.frame;
}

function wholePixels(wanted: Rect, frame: Rect): Rect {
  const x = Math.ceil(wanted.x);
  const y = Math.ceil(wanted.y);
  const part = intersect(
    { x, y, width: Math.ceil(wanted.x + wanted.width) - x, height: Math.ceil(wanted.y + wanted.height) - y },
    frame,
  );
  if (isEmpty(part))
    throw new UserError(
      'extent-outside',
      'The export area is outside the frame. Draw it on the picture.',
      'cloth.extent',
    );
  return part;
}
