import { RefreshCw, X } from 'lucide-react';
import { useState } from 'react';
import { describeReplacement } from '@owl-loom/recipe/stack-replacement';
import { useReplacementsQuery, useDismissReplacementMutation } from '../store/api';
import type { ReplacementRow } from '@owl-loom/api/palettes';
import type { TargetCard } from '@owl-loom/api/targets';
import { Button, IconButton } from '../ui/controls';
import { RenewalLook } from './ReplacementReview';

/** Says of each stack that a newer file took the place of what has changed, and leads to the pictures. */
export function Renewals({ target }: { target: TargetCard }) {
  const { data: rows = [] } = useReplacementsQuery(target.id);
  const [seen] = useDismissReplacementMutation();
  const [looked, setLooked] = useState<ReplacementRow>();
  return (
    <>
      {rows.map((row) => {
        const description = describeReplacement(row.before, row.after);
        return (
          <div
            key={row.id}
            role="status"
            className="flex items-center gap-3 border-t border-edge bg-board px-4 py-2 text-[13px]"
          >
            <RefreshCw size={15} className="shrink-0 text-lamp" />
            <span className="grow">
              <b>{row.stackName}</b> was replaced:{' '}
              {description.length > 0 ? description.join(', ') : 'measurements unchanged'}.
            </span>
            {row.kept.length > 0 && (
              <Button small onClick={() => setLooked(row)}>
                Compare old and new
              </Button>
            )}
            <IconButton label={`Dismiss: ${row.stackName} was replaced`} onClick={() => void seen(row.id)}>
              <X size={14} />
            </IconButton>
          </div>
        );
      })}
      {looked && <RenewalLook target={target} renewal={looked} onClose={() => setLooked(undefined)} />}
    </>
  );
}
