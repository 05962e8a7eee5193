import type { Graph } from '@owl-loom/engine/graph';
import type { KeyedMeasurement } from '@owl-loom/engine/measurement-plan';
import { MEASUREMENT_KINDS, type Measurement } from '@owl-loom/engine/measurements/index';
import type { SharedWorkerState } from './shared-worker-state';

/** Guesses that are kept: those of states long gone would pile up while a slider moves. */
const MAX_GUESSES = 400;

/** What is known of a recipe's measurements: true ones, estimates, and what stands in where there is neither. */
export class KnownFigures {
  guesses = new Map<string, Measurement>();
  /** Places of measurements in the recipe by key, and the last true measurement of each place. */
  private readonly measurementSlots = new Map<string, string>();
  private readonly lastTrue = new Map<string, Measurement>();
  /** Keys of measurements for which a plain stand-in was taken, since none was ever measured at that place. */
  private readonly standIns = new Set<string>();
  private graph: Graph | undefined;

  /** @param common measurements that hold for every open recipe */
  constructor(private readonly common: Pick<SharedWorkerState, 'figures' | 'failed'>) {}

  /** Takes up another state of the recipe: the same place finds its last true measurement again. */
  open(graph: Graph): void {
    this.graph = graph;
    this.measurementSlots.clear();
    for (const node of graph.nodes) {
      node.measurementKeys.forEach((key, i) => {
        // By kind, since a step that has some of its measurements given or held names fewer of them.
        const { kind } = node.measurements[i];
        const before = node.measurements.slice(0, i).filter((other) => other.kind === kind).length;
        const slot = `${node.path} ${node.kind} ${kind} ${before}`;
        this.measurementSlots.set(key, slot);
        const figure = this.truth(key);
        if (figure) this.lastTrue.set(slot, figure);
      });
    }
    if (this.guesses.size > MAX_GUESSES) this.guesses = new Map();
  }

  /** Takes in measurements that were measured, and why others cannot be, both by key. */
  learn(figures: Readonly<Record<string, Measurement>>, failed: Readonly<Record<string, string>>): void {
    for (const [key, message] of Object.entries(failed)) this.common.failed.set(key, message);
    for (const [key, figure] of Object.entries(figures)) {
      this.common.figures.set(key, figure);
      const slot = this.measurementSlots.get(key);
      if (slot) this.lastTrue.set(slot, figure);
    }
  }

  /** Guesses of measurements that are not known yet, by key, as far as the open recipe asks for them. */
  guessed(): Record<string, Measurement> {
    const keys = new Set(this.graph?.nodes.flatMap((node) => node.measurementKeys));
    return Object.fromEntries([...this.guesses].filter(([key]) => keys.has(key) && !this.truth(key)));
  }

  /** Takes over the estimates of another who has the same recipe open. */
  guess(guesses: Readonly<Record<string, Measurement>>): void {
    for (const [key, figure] of Object.entries(guesses)) this.guesses.set(key, figure);
  }

  /** A measurement as it was measured at full size. */
  truth = (key: string): Measurement | undefined => this.common.figures.get(key);

  /** Measurements as far as they are known, true ones before estimates. */
  all(): Map<string, Measurement> {
    return new Map([...this.guesses, ...this.common.figures]);
  }

  /** The same for people to read: what could not be measured is left out, and what has not been yet, at that place, at any time. */
  toTell(): Map<string, Measurement> {
    const known = this.all();
    for (const key of this.common.failed.keys()) known.delete(key);
    for (const key of this.standIns) if (!this.truth(key)) known.delete(key);
    return known;
  }

  /** While something above moves, the last measurement that was true is nearer than none. */
  standIn({ spec, key }: KeyedMeasurement): Measurement | undefined {
    const still = MEASUREMENT_KINDS[spec.kind].placeholder?.(spec, this.graph?.nodes[spec.nodes[0]].planes ?? 1);
    const before = still && this.lastTrue.get(this.measurementSlots.get(key) ?? '');
    if (still && !before) this.standIns.add(key);
    return before ?? still;
  }
}
