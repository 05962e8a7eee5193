import type { RequestedMeasurement } from '@owl-loom/engine/measurement-plan';
import type { Measurement } from '@owl-loom/engine/measurements/index';
import type { WorkerReply, WorkerMessage, WorkerReplies, WorkerRequest } from '../../worker/protocol';

type Pending = { resolve: (value: unknown) => void; reject: (error: Error) => void };
type Of<T extends WorkerRequest['type']> = Extract<WorkerRequest, { type: T }>;

/** One worker, as promises. */
class WorkerConnection {
  private readonly worker = new Worker(new URL('../../worker/loom.worker.ts', import.meta.url), { type: 'module' });
  private readonly pending = new Map<number, Pending>();
  private next = 1;

  constructor() {
    this.worker.onmessage = ({ data }: MessageEvent<WorkerReply>) => {
      const waiting = this.pending.get(data.id);
      this.pending.delete(data.id);
      if ('fault' in data) waiting?.reject(new Error(data.fault));
      else waiting?.resolve(data.ok);
    };
    this.worker.onerror = (event) => {
      for (const waiting of this.pending.values())
        waiting.reject(new Error(event.message || 'The picture could not be computed.'));
      this.pending.clear();
    };
  }

  ask<T extends WorkerRequest['type']>(request: Of<T>): Promise<WorkerReplies[T]> {
    const id = this.next++;
    return new Promise<WorkerReplies[T]>((resolve, reject) => {
      this.pending.set(id, { resolve: (value) => resolve(value as WorkerReplies[T]), reject });
      this.worker.postMessage({ id, request } satisfies WorkerMessage);
    });
  }

  close(): void {
    this.worker.terminate();
  }
}

/** What a worker must be told before it can draw. */
type Telling = Of<'scene'> | Of<'figures'> | Of<'proof'> | Of<'guesses'>;

/** The workers that compute what is on screen, as promises: one for all, and a second that helps with fine pictures where there are two cores. */
export class WorkerClient {
  private readonly first = new WorkerConnection();
  private second: WorkerConnection | undefined;
  private scene: Of<'scene'> | undefined;
  /** The scene that the second worker knows: it is told of a new one when it is to draw, and not at every touch of a hand that moves. */
  private lastScene: Of<'scene'> | undefined;
  private learned: Record<string, Measurement> = {};
  private readonly proofs: Of<'proof'>[] = [];
  /** What charts and marks on the screen show, beside the picture, by who wants it: measured at full size when things rest. */
  readonly requestedMeasurements = new Map<string, readonly RequestedMeasurement[]>();

  ask<T extends WorkerRequest['type']>(request: Of<T>): Promise<WorkerReplies[T]> {
    this.tell(request);
    return this.first.ask(request);
  }

  /** Starts the second worker before it is needed. */
  warm(): void {
    if (this.second || !(navigator.hardwareConcurrency > 1)) return;
    this.second = new WorkerConnection();
    this.send({ type: 'figures', figures: this.learned });
    for (const proof of this.proofs) this.send(proof);
  }

  /** The second worker learns what the first knows, estimates and all: what one has estimated need not be estimated again. */
  async syncSecond(): Promise<void> {
    this.warm();
    if (!this.second) return;
    this.bring();
    this.send({ type: 'guesses', guesses: await this.first.ask({ type: 'guessed' }) });
  }

  /** Draws on the second worker; on the first where there is but one core. */
  async drawOnSecond(request: Of<'draw'>): Promise<WorkerReplies['draw']> {
    this.warm();
    if (!this.second) return this.first.ask(request);
    this.bring();
    return this.second.ask(request);
  }

  /** Brings the second worker to the scene of the first. */
  private bring(): void {
    if (!this.scene || this.lastScene === this.scene) return;
    this.lastScene = this.scene;
    this.send(this.scene);
  }

  private tell(request: WorkerRequest): void {
    if (request.type === 'scene') this.scene = request;
    if (request.type === 'figures') this.learned = { ...this.learned, ...request.figures };
    if (request.type === 'proof') this.proofs.push(request);
    if (this.second && (request.type === 'figures' || request.type === 'proof')) this.send(request);
  }

  private send(request: Telling): void {
    // Whatever is wrong with it, the first worker says so as well.
    this.second?.ask(request).catch(() => undefined);
  }

  close(): void {
    this.first.close();
    this.second?.close();
    warmEngine();
  }
}

let warm: WorkerClient | undefined;

/** Starts workers before anyone needs them: reading their code takes longer than drawing a picture. */
export function warmEngine(): void {
  if (warm) return;
  warm = new WorkerClient();
  warm.warm();
}

/** A worker for a screen of one's own, warm where there is one. */
export function takeEngine(): WorkerClient {
  const engine = warm ?? new WorkerClient();
  warm = undefined;
  return engine;
}
