import type { StackRow } from '@owl-loom/api/stacks';

/** What does not go together in a set of stacks, with what would mend it. */
export interface Inconsistency {
  readonly kind: 'scale' | 'edges';
  readonly says: string;
  readonly rows: readonly StackRow[];
  /** What all are to be divided by, for a scale. */
  readonly divisor?: number;
}

const listed = (rows: readonly StackRow[]): string => rows.map((row) => row.name).join(', ');

/** A divisor as people read it. */
export const divisorText = (divisor: number): string => String(divisor);

/** The smallest share of zeros at the edge that is worth a word. */
const EDGE_SHARE = 0.0005;

/** Stacks that were brought to another scale than most, and stacks with zeros at their edges. */
export function findInconsistencies(rows: readonly StackRow[]): Inconsistency[] {
  const found: Inconsistency[] = [];
  const counts = new Map<number, number>();
  for (const { divisor } of rows) counts.set(divisor, (counts.get(divisor) ?? 0) + 1);
  if (counts.size > 1) {
    // Of two that are as common, the one of the first stack.
    const usual = [...counts].reduce((best, next) => (next[1] > best[1] ? next : best))[0];
    const odd = rows.filter((row) => row.divisor !== usual);
    const own = [...new Set(odd.map((row) => divisorText(row.divisor)))].join(' and ');
    found.push({
      kind: 'scale',
      rows: odd,
      divisor: usual,
      says: `Full scale differs: ${listed(odd)} ${odd.length === 1 ? 'uses' : 'use'} ${own}, the others ${divisorText(usual)}. Correct if the files were saved that way.`,
    });
  }
  const edged = rows.filter((row) => row.edgeZeros > EDGE_SHARE && !row.edgesBlank);
  if (edged.length > 0)
    found.push({
      kind: 'edges',
      rows: edged,
      says: `${listed(edged)} ${edged.length === 1 ? 'has' : 'have'} zeros at the edge (${(100 * Math.max(...edged.map((row) => row.edgeZeros))).toFixed(1)} %${edged.length === 1 ? '' : ' at most'}), probably no data there.`,
    });
  return found;
}
