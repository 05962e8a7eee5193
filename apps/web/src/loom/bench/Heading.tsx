import { TriangleAlert } from 'lucide-react';
import { showWatch, useHintsShown } from './step-hints';

/** What lies on the bench, with anything that is wrong with it. A name of a person's `own` stays as it was written. */
export function Heading({
  title,
  says,
  where,
  notices = [],
  own = false,
  watch,
}: {
  title: string;
  says: string;
  where?: string;
  notices?: readonly string[];
  own?: boolean;
  /** What to look for, and what goes wrong when it is too much. */
  watch?: { readonly for: string; readonly tooMuch: string };
}) {
  const shown = useHintsShown();
  return (
    <header className="border-b border-edge px-4 pt-4 pb-3">
      <h2 className={`text-[17px] leading-tight font-semibold ${own ? '' : 'first-letter:uppercase'}`}>{title}</h2>
      <p className="mt-0.5 text-[13px] text-hush">
        {where ? `${where} · ` : ''}
        {says}
      </p>
      {watch && (
        <details
          open={shown}
          onToggle={(event) => showWatch(event.currentTarget.open)}
          className="mt-1.5 text-[12.5px] leading-snug"
        >
          <summary className="w-fit cursor-pointer text-soft hover:text-text">What to look for</summary>
          <p className="mt-1 text-soft">{watch.for}</p>
          <p className="mt-0.5 text-soft">
            <span className="text-hush">Caution:</span> {watch.tooMuch}
          </p>
        </details>
      )}
      {notices.map((notice) => (
        <p
          key={notice}
          className="mt-2.5 flex gap-2 rounded-md border border-ember/40 bg-pit px-2.5 py-2 text-[12.5px] leading-snug"
        >
          <TriangleAlert size={14} className="mt-0.5 shrink-0 text-ember" />
          <span className="first-letter:uppercase">{notice}</span>
        </p>
      ))}
    </header>
  );
}
