import { ShieldCheck, TriangleAlert, X } from 'lucide-react';
import { useEffect, useState } from 'react';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { useAppDispatch } from '../../store/store';
import { viewChanged } from '../../store/view';
import { IconButton } from '../../ui/controls';
import { usePicture, useSession } from '../../session/session';
import { useLatestReply } from '../../session/use-latest-reply';
import { guardText } from './drift-text';

/** What becomes of a guarded place while one works elsewhere. */
export function GuardLine({ rect }: { rect: Rect }) {
  const { engine } = useSession();
  const { shown } = usePicture();
  const send = useAppDispatch();
  const [since, setSince] = useState<Rect>();
  useEffect(() => {
    void engine.ask({ type: 'guard', rect }).then(() => setSince(rect));
    return () => void engine.ask({ type: 'guard', rect: null });
  }, [engine, rect]);
  const drift = useLatestReply(since === rect ? { type: 'guarded' } : undefined, shown);
  const moved = drift && guardText(drift);
  return (
    <section
      aria-label="Guarded region"
      className={`pointer-events-auto absolute bottom-14 left-3 flex items-center gap-2 rounded-md border bg-black/85 px-3 py-1 text-[13px] ${moved ? 'border-ember/60' : 'border-edge'}`}
    >
      {moved ? (
        <TriangleAlert size={15} className="shrink-0 text-ember" />
      ) : (
        <ShieldCheck size={15} className="shrink-0 text-soft" />
      )}
      <span role={moved ? 'alert' : 'status'} className={moved ? 'text-text' : 'text-soft'}>
        {moved ? `Guarded region: ${moved}` : 'Guarded region unchanged'}
      </span>
      <IconButton label="Stop guarding" onClick={() => send(viewChanged({ guard: null }))}>
        <X size={14} />
      </IconButton>
    </section>
  );
}
