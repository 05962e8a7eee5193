/** What is known of a stack's exposure. */
interface Exposed {
  readonly filter: string;
  /** Seconds. */
  readonly exposure?: number;
}

/** Seconds through each filter, added up over the stacks that tell, in the order in which they come. */
export function totalExposures(stacks: readonly Exposed[]): { filter: string; seconds: number }[] {
  const sums = new Map<string, number>();
  for (const { filter, exposure } of stacks) if (exposure) sums.set(filter, (sums.get(filter) ?? 0) + exposure);
  return [...sums].map(([filter, seconds]) => ({ filter, seconds }));
}
