import { toast } from 'sonner';
import type { JobOf } from '@owl-loom/api/jobs';
import { many } from '@owl-loom/base/join-words';
import { download } from '../ui/download';

/** An archive is ready: it is offered, and fetched when that is wanted. */
export function onArchiveDone({ id, result, title }: JobOf<'archive'>): void {
  if (!result) return;
  const { fileName } = result;
  toast.success(`The archive of ${title} is ready.`, {
    id,
    duration: Infinity,
    closeButton: true,
    action: { label: 'Download', onClick: () => download(`/api/archives/${id}/file`, fileName) },
  });
}

/** A target has come back: what of it was new here. */
export function restoreTold({ id, result }: JobOf<'restore'>): void {
  if (!result) return;
  const { name, stacks, recipes, states, swatches, notes } = result;
  const fresh = [
    stacks > 0 && many(stacks, 'stack'),
    recipes > 0 && many(recipes, 'recipe'),
    states > 0 && many(states, 'version'),
    swatches > 0 && many(swatches, 'swatch'),
  ].filter((one) => typeof one === 'string');
  const says = fresh.length > 0 ? `${name} opened: ${fresh.join(', ')}.` : `${name} is already here, complete.`;
  toast.success([says, ...notes].join(' '), { id, duration: 10_000 });
}
