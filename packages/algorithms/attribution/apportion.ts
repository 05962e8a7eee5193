/** What is left of a plane's parts, as a share of all that they move, below which they cancel out. */
const CANCELS = 0.02;

/**
 * Shares a change out among what has a part in it, so that the shares add up to it in every plane. Where the parts add up to the change by
 * themselves, as those of a sum do, each gets its own; else the change is parted as the parts are to each other. Where they cancel each other
 * out, it goes by how much each moves, whichever way.
 * @param change by plane
 * @param parts what each would change by itself, by plane
 * @returns the shares, in the order of the parts; all 0 in a plane where no part moves anything
 */
export function apportionChange(change: readonly number[], parts: readonly (readonly number[])[]): number[][] {
  const shares = parts.map(() => change.map(() => 0));
  change.forEach((whole, plane) => {
    const own = parts.map((part) => (Number.isFinite(part[plane]) ? part[plane] : 0));
    const sum = own.reduce((a, b) => a + b, 0);
    const moved = own.reduce((a, b) => a + Math.abs(b), 0);
    if (moved === 0) return;
    const cancels = Math.abs(sum) < CANCELS * moved;
    own.forEach((part, i) => {
      shares[i][plane] = whole * (cancels ? Math.abs(part) / moved : part / sum);
    });
  });
  return shares;
}
