import type { ChangeRef } from '../../../worker/protocol';
import { useAppSelector, useAppDispatch } from '../../store/store';
import { viewChanged } from '../../store/view';
import { Button } from '../../ui/controls';
import { useIdleQuery } from './use-told';

/**
 * How much of the picture a layer or step changes, and where.
 * @param image path of the image that it comes to
 */
export function Touched({ change, image }: { change: ChangeRef; image: string }) {
  const on = useAppSelector((state) => state.view.showChanged);
  const send = useAppDispatch();
  const share = useIdleQuery({ type: 'touched', ...change }, image);
  return (
    <div className="flex items-center justify-between gap-3">
      <span className="text-soft">Pixels changed</span>
      <span className="flex items-center gap-2.5">
        <span className="figures">{share === undefined || share === null ? '…' : shareText(share)}</span>
        <Button
          small
          aria-pressed={on}
          className={on ? 'border-lamp! text-lamp!' : ''}
          onClick={() => send(viewChanged({ showChanged: !on }))}
        >
          Show where
        </Button>
      </span>
    </div>
  );
}

function shareText(share: number): string {
  if (share === 0) return 'nothing';
  const percent = 100 * share;
  return percent < 0.1 ? 'under 0.1 %' : percent > 99.9 && share < 1 ? 'over 99.9 %' : `${percent.toFixed(1)} %`;
}
