import type { ReactNode } from 'react';
import { sentenceCase } from '../../ui/sentence-case';

/** Measurements in two columns, for reading. */
export function Rows({ rows }: { rows: readonly (readonly [string, ReactNode])[] }) {
  return (
    <dl className="text-[13px]">
      {rows.map(([label, value]) => (
        <div
          key={label}
          className="flex items-baseline justify-between gap-3 border-b border-edge py-1.5 last:border-0"
        >
          <dt className={`text-soft ${sentenceCase(label)}`}>{label}</dt>
          <dd className="figures text-right text-text">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

export function Section({ title, children }: { title?: string; children: ReactNode }) {
  return (
    <section className="space-y-2.5 border-b border-edge px-4 py-3.5 last:border-0">
      {title && <h3 className="text-[12px] tracking-wide text-hush first-letter:uppercase">{title}</h3>}
      {children}
    </section>
  );
}
