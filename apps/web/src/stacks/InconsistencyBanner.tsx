import { TriangleAlert, X } from 'lucide-react';
import { parseJsonOrUndefined } from '@owl-loom/base/json';
import { useState } from 'react';
import { useBlankEdgesMutation, useScaleStacksMutation } from '../store/api';
import type { StackRow } from '@owl-loom/api/stacks';
import { showError } from '../store/show-error';
import { Button, IconButton } from '../ui/controls';
import { StoredPreference } from '../ui/stored-preference';
import { divisorText, type Inconsistency, findInconsistencies } from './inconsistencies';

/** What was said to be right for a target, which this browser remembers. */
const keptOf = (target: string): StoredPreference => new StoredPreference(`owl-loom-right-so-${target}`);

function settledOf(target: string): ReadonlySet<string> {
  const list = parseJsonOrUndefined(keptOf(target).get() ?? '');
  return new Set(Array.isArray(list) ? list.filter((one) => typeof one === 'string') : []);
}

/** Says what does not go together in a set, and mends it for all of it in one press. */
export function OddOnes({ target, rows }: { target: string; rows: readonly StackRow[] }) {
  const [scale] = useScaleStacksMutation();
  const [edges] = useBlankEdgesMutation();
  const [known, setKnown] = useState<ReadonlySet<string>>(() => settledOf(target));
  const settle = (says: string): void => {
    const next = new Set([...known, says]);
    keptOf(target).set(JSON.stringify([...next]));
    setKnown(next);
  };
  const shown = findInconsistencies(rows).filter((odd) => !known.has(odd.says));
  const mend = async (odd: Inconsistency): Promise<void> => {
    const results =
      odd.kind === 'scale'
        ? [await scale({ target, divisor: odd.divisor ?? null, stacks: odd.rows.map((row) => row.id) })]
        : await Promise.all(odd.rows.map((row) => edges({ id: row.id, blank: true })));
    results.forEach(showError);
  };
  return shown.map((odd) => (
    <div
      key={odd.kind}
      role="status"
      className="flex items-center gap-3 border-t border-edge bg-board px-4 py-2 text-[13px]"
    >
      <TriangleAlert size={15} className="shrink-0 text-lamp" />
      <span className="grow">{odd.says}</span>
      <Button small onClick={() => void mend(odd)}>
        {odd.kind === 'scale' ? `Set all to ${divisorText(odd.divisor ?? 1)}` : 'Treat as no data'}
      </Button>
      <IconButton label="Dismiss" onClick={() => settle(odd.says)}>
        <X size={14} />
      </IconButton>
    </div>
  ));
}
