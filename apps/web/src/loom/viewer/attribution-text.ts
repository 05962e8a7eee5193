import type { AttributionRow } from '../../../worker/protocol';

/** A change for reading, to a thousandth, with its sign. */
export const shown = (v: number): string => `${v < 0 ? '−' : '+'}${Math.abs(v).toFixed(3)}`;

/** How much each strand has to do with a layer's change, 0 to 1, all together 1: by how far its shares move the three planes. */
export function strandShares({ strands }: AttributionRow): { id: string; path: string; share: number }[] {
  const moved = strands.map(({ share }) => share.reduce((all, v) => all + Math.abs(v), 0));
  const all = moved.reduce((a, b) => a + b, 0);
  return strands.map(({ id, path }, i) => ({ id, path, share: all > 0 ? moved[i] / all : 0 }));
}
