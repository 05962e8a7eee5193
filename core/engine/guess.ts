import type { Figure, FigureSpec } from '../figures/index';
import { halved, levelCount, levelRect, levelWithin } from '../raster/levels';
import type { Raster } from '../raster/raster';
import type { Rect } from '../raster/rect';
import type { Graph } from './graph';
import { measureFigure } from './measure';
import { carriedFigure, type Carrying, figuresFor, measuringWay, type PlannedFigure, wayTo } from './plan';

/** What guessing needs of the place where it happens. */
export interface GuessPlace {
  readonly graph: Graph;
  /** Pixels of the level from which a kind of figure is guessed. */
  pixelsFor(kind: FigureSpec['kind']): number;
  /** A figure as it was measured at full size. */
  truth(key: string): Figure | undefined;
  /** Told of a figure that follows exactly from true ones. */
  follows(key: string, figure: Figure): void;
  /** What stands in for a figure that no coarse level can tell; undefined where a level is to be asked. */
  standIn(item: PlannedFigure): Figure | undefined;
  /** A window of a level of a node whose figures are all known or guessed. */
  image(node: number, rect: Rect, level: number, figures: ReadonlyMap<string, Figure>): Promise<Raster>;
}

/** The finest level on which the frame has no more pixels than these. */
export const levelFor = ({ frame }: Graph, pixels: number): number =>
  Math.min(levelCount(frame.width, frame.height) - 1, levelWithin(frame, pixels));

/** Figures of a graph from a coarse level, as far as they are not known: by algebra where that gives them, else measured there. */
export class Guesser {
  /** @param guesses figures that were guessed before, by key; new ones are added */
  constructor(
    private readonly place: GuessPlace,
    private readonly guesses: { get(key: string): Figure | undefined; set(key: string, figure: Figure): unknown },
  ) {}

  /** Sees that every figure of a node is known or guessed; gives the keys of the guessed ones. */
  async settle(node: number): Promise<Set<string>> {
    const guessed = new Set<string>();
    await this.known(figuresFor(this.place.graph, node), guessed);
    return guessed;
  }

  /** A figure, guessed where it is not known yet; its key then joins `guessed`. */
  async figure({ spec, key }: PlannedFigure, guessed: Set<string>): Promise<Figure> {
    const { place } = this;
    const known = place.truth(key);
    if (known) return known;
    const before = this.guesses.get(key);
    if (before) {
      guessed.add(key);
      return before;
    }
    const way = wayTo(place.graph, spec);
    const under = new Set<string>();
    const carried = way.by === 'carrying' ? await this.carried(way, under) : undefined;
    const figure = carried ?? place.standIn({ spec, key }) ?? (await this.fromLevel({ spec, key }));
    // What follows exactly from what is true is true.
    if (carried && under.size === 0) place.follows(key, figure);
    else {
      guessed.add(key);
      this.guesses.set(key, figure);
    }
    return figure;
  }

  private async carried(way: Carrying, guessed: Set<string>): Promise<Figure | undefined> {
    return carriedFigure(this.place.graph, way, await this.known(way.on, guessed));
  }

  private async fromLevel({ spec }: PlannedFigure): Promise<Figure> {
    const { graph } = this.place;
    const way = measuringWay(graph, spec);
    const most = this.place.pixelsFor(spec.kind);
    let level = levelFor(graph, most);
    const guessed = new Set<string>();
    let images: Raster[] = [];
    for (const { node, rect } of way.images) {
      const figures = await this.known(figuresFor(graph, node), guessed);
      images.push(await this.place.image(node, levelRect(rect, level), level, figures));
    }
    // Fewer pixels than any level has.
    for (; images.some(({ rect }) => rect.width * rect.height > 2 * most); level++) images = images.map(halved);
    const on: Figure[] = [];
    for (const item of way.on) on.push(await this.figure(item, guessed));
    return measureFigure(spec, images, on, level);
  }

  /** Figures by key, those of a node for one. */
  async known(items: readonly PlannedFigure[], guessed: Set<string>): Promise<Map<string, Figure>> {
    const found = new Map<string, Figure>();
    for (const item of items) found.set(item.key, await this.figure(item, guessed));
    return found;
  }
}
