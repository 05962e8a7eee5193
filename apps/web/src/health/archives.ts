import { toast } from 'sonner';
import type { JobRow } from '../store/rows';
import { many } from '#base/join-words';
import { download } from '../ui/download';

/** An archive is ready: it is offered, and fetched when that is wanted. */
export function onArchiveDone({ id, result, title }: JobRow): void {
  const { fileName } = (result ?? {}) as { fileName?: string };
  if (!fileName) return;
  toast.success(`${title} is packed.`, {
    id,
    duration: Infinity,
    closeButton: true,
    action: { label: 'Save the file', onClick: () => download(`/api/archives/${id}/file`, fileName) },
  });
}

interface Unpacked {
  readonly name: string;
  readonly stacks: number;
  readonly recipes: number;
  readonly states: number;
  readonly swatches: number;
  readonly notes: readonly string[];
}

/** A target has come back: what of it was new here. */
export function restoreTold({ id, result }: JobRow): void {
  const { name, stacks, recipes, states, swatches, notes } = result as unknown as Unpacked;
  const fresh = [
    stacks > 0 && many(stacks, 'stack'),
    recipes > 0 && many(recipes, 'recipe'),
    states > 0 && many(states, 'state'),
    swatches > 0 && many(swatches, 'swatch'),
  ].filter((one) => typeof one === 'string');
  const says = fresh.length > 0 ? `${name} is here: ${fresh.join(', ')}.` : `${name} was here already, with all of it.`;
  toast.success([says, ...notes].join(' '), { id, duration: 10_000 });
}
