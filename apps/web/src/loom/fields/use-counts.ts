import { useState } from 'react';
import type { HistogramBins } from '@owl-loom/image/stats/summary';
import { useReport, useHash, useSession } from '../../session/session';
import { useRequestedMeasurement } from '../../session/use-requested-measurement';
import { useKeyedEffect } from '../../ui/use-keyed-effect';

/** How often each number stands in an image, plane by plane; nothing until it is told. */
export function useHistogram(path: string): readonly HistogramBins[] {
  const { engine } = useSession();
  const described = useReport();
  const [counts, setCounts] = useState<readonly HistogramBins[]>([]);
  const hash = useHash(path);

  useRequestedMeasurement('counts', path);

  // Asked again when something has been measured: what was estimated from a coarse level may be known by now.
  // Described stands for what was measured.
  useKeyedEffect(() => {
    if (!hash) return undefined;
    let over = false;
    engine.ask({ type: 'histogram', path }).then(
      (reply) => {
        if (!over) setCounts(reply);
      },
      () => {
        if (!over) setCounts([]);
      },
    );
    return () => {
      over = true;
    };
  }, [engine, path, hash, described]);

  return counts;
}
