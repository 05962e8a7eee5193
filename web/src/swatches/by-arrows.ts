import type { KeyboardEvent } from 'react';

/** How far the arrow keys go in two columns. */
const ARROWS: Readonly<Record<string, number>> = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -2, ArrowDown: 2 };

/**
 * Goes through pictures in two columns by arrow keys; the focus goes along.
 * @param now place of the chosen one
 * @param choose takes the next one; false where that cannot be chosen
 * @param pictures selector of what has the focus, in the list's order
 */
export function byArrows(
  event: KeyboardEvent<HTMLElement>,
  now: number,
  choose: (next: number) => boolean,
  pictures: string,
): void {
  const by = ARROWS[event.key];
  if (by === undefined || !choose(now + by)) return;
  event.preventDefault();
  event.currentTarget.querySelectorAll<HTMLElement>(pictures)[now + by]?.focus();
}
