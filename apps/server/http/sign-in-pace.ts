/** Wrong tries that cost no pause: a slip of the finger is no attack. */
const FREE = 3;
/** The first pause in milliseconds; each further one is twice as long. */
const FIRST = 1000;
const LONGEST = 60_000;
/** After so long without a try all is forgotten, ms. */
const FORGOTTEN = 3_600_000;
/** Places that are remembered; beyond that the one that tried longest ago is forgotten. */
const MOST = 10_000;

interface Tries {
  readonly wrong: number;
  readonly last: number;
}

/**
 * Slows down whoever estimates: after a few wrong tries from one place each further one must wait, twice as long each time. Nobody is kept out by
 * the tries of others, and nobody for longer than a minute.
 */
export class Pace {
  private readonly tries = new Map<string, Tries>();

  private known(place: string, now: number): Tries | undefined {
    const found = this.tries.get(place);
    return found && now - found.last < FORGOTTEN ? found : undefined;
  }

  /** Milliseconds that a place must wait before it may try again. */
  pause(place: string, now = Date.now()): number {
    const found = this.known(place, now);
    if (!found || found.wrong < FREE) return 0;
    return Math.max(0, found.last + Math.min(LONGEST, FIRST * 2 ** (found.wrong - FREE)) - now);
  }

  /** Counts a try before its outcome is known, so that many at once are no way round. */
  tried(place: string, now = Date.now()): void {
    const wrong = (this.known(place, now)?.wrong ?? 0) + 1;
    // The map keeps the order in which places tried last.
    this.tries.delete(place);
    this.tries.set(place, { wrong, last: now });
    const oldest = this.tries.keys().next();
    if (this.tries.size > MOST && !oldest.done) this.tries.delete(oldest.value);
  }

  /** Forgets the tries of a place that was let in. */
  right(place: string): void {
    this.tries.delete(place);
  }
}
