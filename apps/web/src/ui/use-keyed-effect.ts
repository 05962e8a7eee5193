import { type EffectCallback, useEffect } from 'react';

/**
 * An effect that runs when one of its keys changes, and only then: for work that is asked for by what the keys say, whatever else its function
 * reads. The function is that of the render in which the key changed.
 */
export function useKeyedEffect(effect: EffectCallback, keys: readonly unknown[]): void {
  // biome-ignore lint/correctness/useExhaustiveDependencies: the keys decide
  useEffect(effect, keys);
}
