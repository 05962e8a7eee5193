import type { Measurement, MeasurementSpec } from './measurements/index';
import { downsampleRaster2x, levelCount, rectAtLevel, levelForPixels } from '@owl-loom/image/pyramid/pyramid';
import type { Raster } from '@owl-loom/image/raster/raster';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { Graph } from './graph';
import { runMeasurement } from './measurements/measure';
import {
  propagateMeasurement,
  type PropagationPlan,
  measurementsRequiredBy,
  directPlan,
  type KeyedMeasurement,
  cheapestPlan,
} from './measurement-plan';

/** What guessing needs of the place where it happens. */
export interface EstimatorHost {
  readonly graph: Graph;
  /** Pixels of the level from which a kind of measurement is estimated. */
  pixelsFor(kind: MeasurementSpec['kind']): number;
  /** A measurement as it was measured at full size. */
  exact(key: string): Measurement | undefined;
  /** Told of a measurement that follows exactly from true ones. */
  onExact(key: string, figure: Measurement): void;
  /** What stands in for a measurement that no coarse level can tell; undefined where a level is to be asked. */
  placeholder(item: KeyedMeasurement): Measurement | undefined;
  /** A window of a level of a node whose measurements are all known or estimated. */
  image(node: number, rect: Rect, level: number, figures: ReadonlyMap<string, Measurement>): Promise<Raster>;
}

/** The finest level on which the frame has no more pixels than these. */
export const levelForPixelCount = ({ frame }: Graph, pixels: number): number =>
  Math.min(levelCount(frame.width, frame.height) - 1, levelForPixels(frame, pixels));

/** Measurements of a graph from a coarse level, as far as they are not known: by algebra where that gives them, else measured there. */
export class MeasurementEstimator {
  /** @param estimates measurements that were estimated before, by key; new ones are added */
  constructor(
    private readonly place: EstimatorHost,
    private readonly guesses: {
      get(key: string): Measurement | undefined;
      set(key: string, figure: Measurement): unknown;
    },
  ) {}

  /** Sees that every measurement of a node is known or estimated; gives the keys of the estimated ones. */
  async resolveMeasurements(node: number): Promise<Set<string>> {
    const guessed = new Set<string>();
    await this.known(measurementsRequiredBy(this.place.graph, node), guessed);
    return guessed;
  }

  /** A measurement, estimated where it is not known yet; its key then joins `estimated`. */
  async figure({ spec, key }: KeyedMeasurement, guessed: Set<string>): Promise<Measurement> {
    const { place } = this;
    const known = place.exact(key);
    if (known) return known;
    const before = this.guesses.get(key);
    if (before) {
      guessed.add(key);
      return before;
    }
    const way = cheapestPlan(place.graph, spec);
    const under = new Set<string>();
    const carried = way.by === 'carrying' ? await this.carried(way, under) : undefined;
    const figure = carried ?? place.placeholder({ spec, key }) ?? (await this.estimateFromLevel({ spec, key }));
    // What follows exactly from what is true is true.
    if (carried && under.size === 0) place.onExact(key, figure);
    else {
      guessed.add(key);
      this.guesses.set(key, figure);
    }
    return figure;
  }

  private async carried(way: PropagationPlan, guessed: Set<string>): Promise<Measurement | undefined> {
    return propagateMeasurement(this.place.graph, way, await this.known(way.dependencies, guessed));
  }

  private async estimateFromLevel({ spec }: KeyedMeasurement): Promise<Measurement> {
    const { graph } = this.place;
    const way = directPlan(graph, spec);
    const max = this.place.pixelsFor(spec.kind);
    let level = levelForPixelCount(graph, max);
    const guessed = new Set<string>();
    let images: Raster[] = [];
    for (const { node, rect } of way.images) {
      const figures = await this.known(measurementsRequiredBy(graph, node), guessed);
      images.push(await this.place.image(node, rectAtLevel(rect, level), level, figures));
    }
    // Fewer pixels than any level has.
    for (; images.some(({ rect }) => rect.width * rect.height > 2 * max); level++)
      images = images.map(downsampleRaster2x);
    const on: Measurement[] = [];
    for (const item of way.dependencies) on.push(await this.figure(item, guessed));
    return runMeasurement(spec, images, on, level);
  }

  /** Measurements by key, those of a node for one. */
  async known(items: readonly KeyedMeasurement[], guessed: Set<string>): Promise<Map<string, Measurement>> {
    const found = new Map<string, Measurement>();
    for (const item of items) found.set(item.key, await this.figure(item, guessed));
    return found;
  }
}
