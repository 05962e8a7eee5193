import { useSyncExternalStore } from 'react';

/** A small thing that the browser remembers from one time to the next, as text. */
export class KeptChoice {
  private value: string | null;
  private readonly listeners = new Set<() => void>();

  constructor(private readonly key: string) {
    this.value = this.read();
  }

  private read(): string | null {
    try {
      return localStorage.getItem(this.key);
    } catch {
      // A browser that keeps nothing: known until the page is left.
      return null;
    }
  }

  get(): string | null {
    return this.value;
  }

  set(value: string): void {
    if (value === this.value) return;
    this.value = value;
    try {
      localStorage.setItem(this.key, value);
    } catch {
      // As above.
    }
    for (const listener of this.listeners) listener();
  }

  readonly listen = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
}

/** What a choice is now; whoever asks is drawn anew when it changes. */
export const useKept = (choice: KeptChoice): string | null => useSyncExternalStore(choice.listen, () => choice.get());
