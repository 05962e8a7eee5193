import { type PiscinaTask, queueOptionsSymbol, type TaskQueue } from 'piscina';

const rankOf = (task: PiscinaTask): number => (task[queueOptionsSymbol] as { rank?: number } | null)?.rank ?? 0;

/** Tasks that wait for a thread: those of the highest rank go first, of one rank the one that came first. */
export class ByRank implements TaskQueue {
  private readonly tasks: PiscinaTask[] = [];

  get size(): number {
    return this.tasks.length;
  }

  push(task: PiscinaTask): void {
    const after = this.tasks.findIndex((other) => rankOf(other) < rankOf(task));
    this.tasks.splice(after < 0 ? this.tasks.length : after, 0, task);
  }

  shift(): PiscinaTask | null {
    return this.tasks.shift() ?? null;
  }

  remove(task: PiscinaTask): void {
    const at = this.tasks.indexOf(task);
    if (at >= 0) this.tasks.splice(at, 1);
  }
}
