import { RefreshCw, X } from 'lucide-react';
import { useState } from 'react';
import { describeReplacement } from '#recipe/stack-replacement';
import { useRenewalsQuery, useSeenRenewalMutation } from '../store/api';
import type { RenewalRow, TargetCard } from '../store/rows';
import { Button, IconButton } from '../ui/controls';
import { RenewalLook } from './ReplacementReview';

/** Says of each stack that a newer file took the place of what has changed, and leads to the pictures. */
export function Renewals({ target }: { target: TargetCard }) {
  const { data: rows = [] } = useRenewalsQuery(target.id);
  const [seen] = useSeenRenewalMutation();
  const [looked, setLooked] = useState<RenewalRow>();
  return (
    <>
      {rows.map((row) => {
        const said = describeReplacement(row.before, row.after);
        return (
          <div
            key={row.id}
            role="status"
            className="flex items-center gap-3 border-t border-edge bg-board px-4 py-2 text-[13px]"
          >
            <RefreshCw size={15} className="shrink-0 text-lamp" />
            <span className="grow">
              <b>{row.stackName}</b> is newer: {said.length > 0 ? said.join(', ') : 'its figures are as they were'}.
            </span>
            {row.kept.length > 0 && (
              <Button small onClick={() => setLooked(row)}>
                Old against new
              </Button>
            )}
            <IconButton label={`The newer ${row.stackName} is known`} onClick={() => void seen(row.id)}>
              <X size={14} />
            </IconButton>
          </div>
        );
      })}
      {looked && <RenewalLook target={target} renewal={looked} onClose={() => setLooked(undefined)} />}
    </>
  );
}
