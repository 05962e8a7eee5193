/** Lets one work at a time go on under a name; others wait for their turn. */
export class KeyedMutex {
  private readonly last = new Map<string, Promise<unknown>>();

  async runExclusive<T>(name: string, work: () => Promise<T>): Promise<T> {
    const before = this.last.get(name) ?? Promise.resolve();
    const own = before.then(work, work);
    this.last.set(name, own);
    try {
      return await own;
    } finally {
      if (this.last.get(name) === own) this.last.delete(name);
    }
  }
}
