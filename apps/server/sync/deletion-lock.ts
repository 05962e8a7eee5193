/** Keeps files where they are while something reads them that the rows spoke of: what was to go goes when all of it has ended. */
export class DeletionLock {
  private under = 0;
  private readonly waiting: (() => Promise<void>)[] = [];

  /** Does a work during which nothing goes. */
  async withoutDeletions<T>(work: () => Promise<T>): Promise<T> {
    this.under++;
    try {
      return await work();
    } finally {
      this.under--;
      if (this.under === 0) for (const go of this.waiting.splice(0)) await go();
    }
  }

  /** Takes something away, now or when it may go. What a process that dies leaves is swept at the next start. */
  async deleteWhenAllowed(take: () => Promise<void>): Promise<void> {
    if (this.under > 0) this.waiting.push(take);
    else await take();
  }
}
