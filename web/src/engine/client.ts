import type { Wanted } from '../../../core/engine/plan';
import type { Answer, Envelope, Replies, Request } from '../../workers/protocol';

type Pending = { resolve: (value: unknown) => void; reject: (fault: Error) => void };

/** The worker that computes what is on screen, as promises. */
export class EngineClient {
  private readonly worker = new Worker(new URL('../../workers/loom.worker.ts', import.meta.url), { type: 'module' });
  private readonly pending = new Map<number, Pending>();
  private next = 1;
  /** What charts and marks on the screen show, beside the picture, by who wants it: measured at full size when things rest. */
  readonly wants = new Map<string, readonly Wanted[]>();

  constructor() {
    this.worker.onmessage = ({ data }: MessageEvent<Answer>) => {
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

  ask<T extends Request['type']>(request: Extract<Request, { type: T }>): Promise<Replies[T]> {
    const id = this.next++;
    return new Promise<Replies[T]>((resolve, reject) => {
      this.pending.set(id, { resolve: (value) => resolve(value as Replies[T]), reject });
      this.worker.postMessage({ id, request } satisfies Envelope);
    });
  }

  close(): void {
    this.worker.terminate();
    warmEngine();
  }
}

let warm: EngineClient | undefined;

/** Starts a worker before anyone needs one: reading its code takes longer than drawing a picture. */
export function warmEngine(): void {
  warm ??= new EngineClient();
}

/** A worker for a screen of one's own, warm where there is one. */
export function takeEngine(): EngineClient {
  const engine = warm ?? new EngineClient();
  warm = undefined;
  return engine;
}
