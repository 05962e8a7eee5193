import type { ServerStatus } from '@owl-loom/api/maintenance';
import { bytes } from '../ui/numbers';

const PARTS: readonly { key: keyof ServerStatus['disk']['by']; word: string; shade: string; says: string }[] = [
  { key: 'originals', word: 'Originals', shade: '#f0b061', says: 'the files as they came in' },
  { key: 'pixels', word: 'Stack pixel data', shade: '#b98242', says: 'made from the originals for quick reading' },
  { key: 'images', word: 'Proofs, cached images', shade: '#7d6b53', says: 're-created when needed' },
  { key: 'exports', word: 'Exports', shade: '#d6d6d6', says: 'files at full resolution' },
  { key: 'pictures', word: 'Swatches, covers', shade: '#9d9d9d', says: 'and contact sheets, history' },
  { key: 'database', word: 'Database', shade: '#6c6c6c', says: 'recipes with history, measurements' },
  { key: 'other', word: 'Other', shade: '#4a4a4a', says: 'archives to download, log' },
];

/** What lies on the disk by what it is, as one bar with a word for each part. */
export function DiskBar({ disk }: { disk: ServerStatus['disk'] }) {
  const total = PARTS.reduce((sum, { key }) => sum + disk.by[key], 0);
  return (
    <div>
      <div className="flex h-3 gap-px overflow-hidden rounded-[3px] bg-pit">
        {PARTS.map(({ key, word, shade }) => (
          <span
            key={key}
            title={`${word}: ${bytes(disk.by[key])}`}
            style={{ flexGrow: disk.by[key] / Math.max(1, total), background: shade }}
          />
        ))}
      </div>
      <dl className="mt-3 grid grid-cols-2 gap-x-8 gap-y-1.5">
        {PARTS.map(({ key, word, shade, says }) => (
          <div key={key} className="flex items-baseline gap-2" title={says}>
            <dt className="flex grow items-baseline gap-2 pl-0.5 text-soft">
              <span className="size-2.5 shrink-0 rotate-45" style={{ background: shade }} />
              {word}
            </dt>
            <dd className="figures">{bytes(disk.by[key])}</dd>
          </div>
        ))}
      </dl>
      <p className="mt-3 text-[12.5px] text-hush">
        {bytes(total)} in all; {bytes(disk.free)} of {bytes(disk.total)} are free on this disk.
      </p>
    </div>
  );
}
