import type { ReactNode } from 'react';
import type { PathInfo } from '../../../worker/protocol';
import { AddStep } from './AddStep';
import type { ThreadPlace } from './layout';

/** A thread's name, its beads, and the plus at its end. */
export function ThreadRow({
  row,
  colour,
  image,
  beadWidth,
  small = false,
  chosen,
  notice,
  onChoose,
  onAdd,
  children,
}: {
  row: ThreadPlace;
  colour: string;
  /** What comes out of it, as far as it is known. */
  image: PathInfo | undefined;
  beadWidth: number;
  /** For longer names. */
  small?: boolean;
  chosen: string;
  /** What is wrong with what it is made of. */
  notice: string | undefined;
  onChoose: () => void;
  onAdd: (kind: string) => void;
  children: ReactNode;
}) {
  return (
    <div>
      <button
        type="button"
        data-path={row.path}
        aria-pressed={chosen === row.path || chosen === `${row.path}.from`}
        onClick={onChoose}
        title={row.id}
        className={`absolute z-10 h-6 max-w-[84px] -translate-y-1/2 truncate rounded px-2 text-left ${small ? 'text-[12px] font-medium' : 'font-semibold'} ${chosen === row.path ? 'bg-lamp text-black!' : 'hover:bg-shelf'}`}
        style={{ left: 6, top: row.y, color: colour }}
      >
        {row.id}
      </button>
      {notice && (
        <span
          title={notice}
          className="absolute z-10 size-2.5 rotate-45 bg-ember"
          style={{ left: 84, top: row.y - 5 }}
        />
      )}
      {children}
      <AddStep
        x={row.addX}
        y={row.y}
        label={`Add a step to ${row.id}`}
        image={image}
        width={beadWidth}
        forMask={row.path.startsWith('masks')}
        onAdd={onAdd}
      />
    </div>
  );
}
