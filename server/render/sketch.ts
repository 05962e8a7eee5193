import { LRUCache } from 'lru-cache';
import { Evaluator } from '../../core/engine/evaluate';
import { type GuessPlace, Guesser } from '../../core/engine/guess';
import { figuresFor } from '../../core/engine/plan';
import { FIGURE_KINDS, type Figure } from '../../core/figures/index';
import type { Raster } from '../../core/raster/raster';
import type { Rect } from '../../core/raster/rect';
import { opened, type Scene, windowsOf } from './opened';
import { type PassedFigure, take } from './passed';

/** Pixels of the level from which a sketch's figures are guessed: enough for a fit and a sky that no eye tells from those of full size. */
const GUESS_PIXELS = 200_000;

/** What few pixels tell while a hand moves is told from so many times as many here. */
const FINER = 4;

/** Guesses by key, which names all that they hang on: palettes on the same stacks have many in common. */
const guesses = new LRUCache<string, Figure>({ max: 500 });

/** A picture of a coarse level to be made from that level of the stacks alone. */
export interface SketchTask {
  readonly scene: Scene;
  /** Figures that are known already; the others are guessed from a coarse level. */
  readonly figures: readonly PassedFigure[];
  readonly node: number;
  readonly rect: Rect;
  readonly level: number;
  /** Shared planes that lie at `rect`. */
  readonly out: readonly Float32Array[];
}

/** Makes a sketch into shared memory. */
export async function sketch({ scene, figures, node, rect, level, out }: SketchTask): Promise<null> {
  const { graph } = opened(scene);
  const known = new Map<string, Figure>(figures.map((figure) => [figure.key, take(figure)]));
  const image = async (
    index: number,
    window: Rect,
    at: number,
    by: ReadonlyMap<string, Figure>,
    into?: Raster,
  ): Promise<Raster> => {
    const evaluator = new Evaluator(graph, by, at);
    const plan = evaluator.plan(index, window);
    return evaluator.run(plan, await windowsOf(scene, plan.sources, at), undefined, into).raster;
  };
  const place: GuessPlace = {
    graph,
    pixelsFor: (kind) => Math.min(GUESS_PIXELS, FINER * (FIGURE_KINDS[kind].guessedFrom ?? GUESS_PIXELS)),
    truth: (key) => known.get(key),
    follows: (key, figure) => void known.set(key, figure),
    standIn: ({ spec }) => FIGURE_KINDS[spec.kind].standIn?.(spec, graph.nodes[spec.nodes[0]].planes),
    image,
  };
  const guesser = new Guesser(place, guesses);
  const all = await guesser.known(figuresFor(graph, node), new Set());
  await image(node, rect, level, all, { rect, planes: [...out] });
  return null;
}
