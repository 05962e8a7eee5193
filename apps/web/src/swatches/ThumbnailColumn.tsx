import type { ReactNode } from 'react';

/** The column of small pictures beside the large one. */
export function Aside({ tabs, head, children }: { tabs: ReactNode; head?: ReactNode; children?: ReactNode }) {
  return (
    <aside className="flex w-[25rem] shrink-0 flex-col border-l border-edge bg-room">
      <div className="flex h-11 shrink-0 items-center gap-3 px-4">
        {tabs}
        {head}
      </div>
      {children}
    </aside>
  );
}
