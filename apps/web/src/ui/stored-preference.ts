import { useSyncExternalStore } from 'react';

/** What the browser remembers from one time to the next; one that keeps nothing has nothing to say. */
export const storage: Pick<Storage, 'getItem' | 'setItem'> = {
  getItem(key) {
    try {
      return localStorage.getItem(key);
    } catch {
      return null;
    }
  },
  setItem(key, value) {
    try {
      localStorage.setItem(key, value);
    } catch {
      // Known until the page is left.
    }
  },
};

/** A small thing that the browser remembers, as text. */
export class StoredPreference {
  private value: string | null;
  private readonly listeners = new Set<() => void>();

  constructor(private readonly key: string) {
    this.value = storage.getItem(key);
  }

  get(): string | null {
    return this.value;
  }

  set(value: string): void {
    if (value === this.value) return;
    this.value = value;
    storage.setItem(this.key, value);
    for (const listener of this.listeners) listener();
  }

  readonly listen = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
}

/** What a choice is now; whoever asks is drawn anew when it changes. */
export const useStoredPreference = (choice: StoredPreference): string | null =>
  useSyncExternalStore(choice.listen, () => choice.get());
