import { TriangleAlert } from 'lucide-react';
import type { StackRow } from '@owl-loom/api/stacks';

/** Says which files are to be brought again: what lies on the server's disk in their place is damaged, or nothing does. */
export function Lacking({ rows }: { rows: readonly StackRow[] }) {
  return rows
    .filter(({ lacking }) => lacking)
    .map(({ id, name, fileName, lacking }) => (
      <p
        key={id}
        role="alert"
        className="flex items-center gap-3 border-t border-edge bg-board px-4 py-2 text-[13px] text-ember"
      >
        <TriangleAlert size={15} className="shrink-0" />
        The original file of {name} is {lacking}. Drop {fileName} here to restore it.
      </p>
    ));
}
