import type { ReactNode } from 'react';

/** A part of the page Health. */
export function Part({ title, children, more }: { title: string; children: ReactNode; more?: ReactNode }) {
  return (
    <section className="rounded-xl border border-edge bg-board p-5">
      <div className="mb-3 flex items-center gap-3">
        <h2 className="font-semibold">{title}</h2>
        <div className="ml-auto flex items-center gap-2">{more}</div>
      </div>
      {children}
    </section>
  );
}
