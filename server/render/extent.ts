import type { Graph } from '../../core/engine/graph';
import { keyIn, type PlannedFigure, planned } from '../../core/engine/plan';
import { UserError } from '../../core/errors';
import type { Figure } from '../../core/figures/index';
import { intersect, isEmpty, type Rect } from '../../core/raster/rect';
import { uprightWithin } from '../../core/raster/turned';
import type { Recipe } from '../../core/recipe/schema';

/** What must be measured to know which part of the frame a finished cloth shows. */
export const extentFigures = (graph: Graph): PlannedFigure[] => (graph.common ? [planned(graph, graph.common)] : []);

/**
 * The part of the frame that a finished cloth shows, in full-size pixels.
 * @throws UserError where the recipe's own rectangle lies outside the frame
 */
export function clothExtent(graph: Graph, recipe: Recipe, figures: ReadonlyMap<string, Figure>): Rect {
  const wanted = recipe.cloth?.extent;
  const common = graph.common && figures.get(keyIn(graph, graph.common));
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
      'this rectangle lies outside the frame; draw it on the picture.',
      'cloth.extent',
    );
  return part;
}
