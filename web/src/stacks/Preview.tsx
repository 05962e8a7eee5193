import { useState } from 'react';
import { cover } from '../engine/covers';
import { workerStack } from '../loom/session';
import { type StackRow, useHeaderQuery } from '../store/api';
import { BitmapView } from '../ui/BitmapView';
import { Button, Choice, Dialog } from '../ui/controls';
import { duration } from '../ui/numbers';

/** The chosen stack, brightened; by its own tone, or all by that of one, so that they can be told apart by strength. */
export function Preview({ row, rows }: { row: StackRow; rows: readonly StackRow[] }) {
  const [bright, setBright] = useState<'own' | 'shared'>('own');
  const [header, setHeader] = useState(false);
  const brightest = rows.find((other) => other.filter === 'Ha') ?? rows[0];
  const shared = bright === 'shared' && brightest.id !== row.id;
  const strands = [row, ...(shared ? [brightest] : [])].map((one) => ({ id: one.name, from: { stack: one.name }, steps: [] }));
  const load = () => cover({ recipe: { format: 'owl-loom-recipe', version: 1, strands }, stacks: [row, brightest].map(workerStack), path: 'strands[0]', anchor: shared ? 'strands[1]' : undefined, width: 1100 });
  return (
    <section className="relative min-h-0 grow overflow-hidden bg-pit">
      <BitmapView load={load} stamp={`${row.pixels} ${bright}`} className="absolute inset-0 size-full object-contain" label={`${row.name}, brightened`} />
      <div className="absolute inset-x-3 top-3 flex items-start justify-between">
        <span className="rounded-md bg-black/75 px-3 py-1.5"><b className="font-semibold">{row.name}</b> <span className="text-hush">· {duration(row.exposure)} · {row.type}{row.divisor !== 1 ? `, divided by ${row.divisor}` : ''}</span></span>
        <span className="flex items-center gap-2 rounded-md bg-black/75 px-2.5 py-1">
          <Choice label="brightness" value={bright} options={[{ value: 'own', label: 'its own' }, { value: 'shared', label: `as ${brightest.name}` }]} onChange={setBright} />
          <Button small look="quiet" onClick={() => setHeader(true)}>Header</Button>
        </span>
      </div>
      {header && <HeaderDialog row={row} onClose={() => setHeader(false)} />}
    </section>
  );
}

function HeaderDialog({ row, onClose }: { row: StackRow; onClose: () => void }) {
  const { data } = useHeaderQuery(row.id);
  return (
    <Dialog open onOpenChange={(open) => !open && onClose()} title={row.fileName} wide>
      <pre className="figures max-h-[60vh] overflow-auto rounded-md bg-pit p-3 leading-relaxed">{data?.join('\n')}</pre>
    </Dialog>
  );
}
