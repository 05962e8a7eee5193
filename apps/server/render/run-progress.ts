import type { MeasurementSpec } from '@owl-loom/engine/measurements/index';
import type { RunOptions } from './run-options';

/** How far a run is: the share of its work done, and which measurement is in progress; of several, the one begun first. */
export class RunProgress {
  /** In the order in which they began. */
  private readonly running = new Set<{ readonly spec: MeasurementSpec }>();
  private finished = 0;
  private expected = 0;

  private done = 0;
  private total = 1;

  constructor(private readonly options: Pick<RunOptions, 'onProgress' | 'onMeasuring'>) {}

  /** So many units of work more are planned. */
  plan(units: number): void {
    this.total += units;
  }

  /** A part of a unit, or one, is done. */
  step(share: number): void {
    this.done += share;
    this.options.onProgress?.(Math.min(0.99, this.done / this.total));
  }

  /** One more measurement is planned. */
  expect(): void {
    this.expected++;
  }

  /** A measurement begins; the function returned ends it, whether it succeeded or not. */
  begin(spec: MeasurementSpec): () => void {
    const entry = { spec };
    this.running.add(entry);
    this.tell();
    return () => {
      this.running.delete(entry);
      this.finished++;
      this.tell();
    };
  }

  private tell(): void {
    const [first] = this.running;
    // What could not be carried over after all is one more than was planned.
    const of = Math.max(this.expected, this.finished + 1);
    if (first) this.options.onMeasuring?.({ spec: first.spec, number: this.finished + 1, of });
  }
}
