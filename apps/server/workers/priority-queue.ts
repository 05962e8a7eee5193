import { type PiscinaTask, queueOptionsSymbol, type TaskQueue } from 'piscina';

const priorityOf = (task: PiscinaTask): number =>
  (task[queueOptionsSymbol] as { priority?: number } | null)?.priority ?? 0;

/** Tasks that wait for a thread: those of the highest priority go first, of one priority the one that came first. */
export class PriorityTaskQueue implements TaskQueue {
  private readonly tasks: PiscinaTask[] = [];

  get size(): number {
    return this.tasks.length;
  }

  push(task: PiscinaTask): void {
    const after = this.tasks.findIndex((other) => priorityOf(other) < priorityOf(task));
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
