import { useState } from 'react';

/** Pictures that may be held against one. */
const MOST = 3;

/** Which pictures are held against the large one: one beside it, or up to three in a grid with it. */
export function useComparisonSelection() {
  const [held, setHeld] = useState<readonly string[]>([]);
  /** Takes a picture in, or lets it go; where there is no more room, the one held longest goes. */
  const turn = (id: string): void =>
    setHeld((before) => (before.includes(id) ? before.filter((one) => one !== id) : [...before, id].slice(-MOST)));
  return { held, turn, none: () => setHeld([]) };
}
