/** One look at something: settles once it is whole. */
interface Look {
  readonly over: Promise<void>;
  done: boolean;
}

/** What has been seen to be whole in this run, or is being looked at, by name: nothing is looked at twice. */
export class IntegrityCheckMemo {
  private readonly looks = new Map<string, Look>();

  /** The look that there was, or is; undefined where there is none. */
  get(name: string): Promise<void> | undefined {
    return this.looks.get(name)?.over;
  }

  /** Whether something is being looked at just now. */
  isRunning(name: string): boolean {
    return this.looks.get(name)?.done === false;
  }

  /** Something is known to be whole: it has just been written. */
  markIntact(name: string): void {
    this.looks.set(name, { over: Promise.resolve(), done: true });
  }

  /** Looks at something, whatever was found before. What fails is forgotten: the next time it may go well. */
  begin(name: string, work: () => Promise<void>): Promise<void> {
    const look: Look = { over: work(), done: false };
    this.looks.set(name, look);
    look.over.then(
      () => {
        look.done = true;
      },
      () => {
        if (this.looks.get(name) === look) this.looks.delete(name);
      },
    );
    return look.over;
  }

  /** Forgets everything. */
  clear(): void {
    this.looks.clear();
  }
}
