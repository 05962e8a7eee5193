import type { Measurement } from './index';

/** One measurement of the parts, all of one kind, that were measured plane by plane. */
export function mergePlanes(parts: readonly Measurement[]): Measurement {
  const [first] = parts;
  if (!('planes' in first)) return first;
  // The parts are all of one kind, so are their planes.
  const planes = parts.flatMap((part): readonly unknown[] => ('planes' in part ? part.planes : []));
  return { ...first, planes } as Measurement;
}
