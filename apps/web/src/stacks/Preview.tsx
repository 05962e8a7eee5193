import { useState } from 'react';
import type { Recipe } from '@owl-loom/recipe/schema';
import { useHeaderQuery } from '../store/api';
import type { StackRow } from '@owl-loom/api/stacks';
import { Button, Choice } from '../ui/controls';
import { Dialog } from '../ui/Dialog';
import { exposed } from '../ui/numbers';
import type { LineUpState } from './LineUp';
import { pairRecipe } from './line-up';
import { PairStage } from './PairStage';

/** The chosen stack, brightened, by its own tone or that of the strongest line; or two laid on each other. */
export function Preview({
  target,
  row,
  rows,
  reference,
  state,
}: {
  target: string;
  row: StackRow;
  rows: readonly StackRow[];
  reference: StackRow;
  state: LineUpState;
}) {
  const [bright, setBright] = useState<'own' | 'shared'>('own');
  const [header, setHeader] = useState(false);
  const behind = rows.find((other) => other.id === state.behind);
  const brightest = rows.find((other) => other.filter === 'Ha') ?? rows[0];
  const shared = bright === 'shared' && brightest.id !== row.id;
  const tag = 'rounded-md bg-black/75 px-3 py-1.5';

  if (behind) {
    const { recipe, paths } = pairRecipe({
      reference: reference.name,
      front: reference.name,
      back: behind.name,
      aligned: state.aligned,
    });
    const difference = state.how === 'difference';
    return (
      <PairStage
        target={target}
        rows={rows}
        recipe={recipe}
        path={paths.front}
        display={{
          mode: 'bright',
          anchor: paths.front,
          ...(difference ? { less: paths.back } : { other: paths.back }),
        }}
        compare={state.how === 'difference' ? 'off' : state.how}
        names={[behind.name, reference.name]}
        label={`${reference.name} and ${behind.name}`}
      >
        {(error) => (
          <div className="pointer-events-none absolute inset-x-3 bottom-3 flex items-end justify-between gap-3">
            <span className={tag}>
              <b className="font-semibold">{behind.name}</b>{' '}
              <span className="text-hush">{difference ? 'minus' : 'and'}</span>{' '}
              <b className="font-semibold">{reference.name}</b>{' '}
              <span className="text-hush">
                · same display stretch{state.aligned ? ', aligned' : ''}
                {difference ? '; grey = no difference' : ''}
              </span>
            </span>
            {error && (
              <span role="alert" className={`${tag} text-ember`}>
                {error}
              </span>
            )}
          </div>
        )}
      </PairStage>
    );
  }
  const recipe: Recipe = {
    format: 'owl-loom-recipe',
    version: 1,
    strands: [row, ...(shared ? [brightest] : [])].map((one) => ({
      id: one.name,
      from: { stack: one.name },
      steps: [],
    })),
  };
  return (
    <div className="relative size-full">
      <PairStage
        target={target}
        rows={rows}
        recipe={recipe}
        path="strands[0]"
        display={{ mode: 'bright', anchor: shared ? 'strands[1]' : undefined }}
        compare="off"
        label={`${row.name}, display stretch`}
      />
      <div className="pointer-events-none absolute inset-x-3 top-3 flex items-start justify-between gap-3">
        <span className={tag}>
          <b className="font-semibold">{row.name}</b>{' '}
          <span className="text-hush">
            · {exposed(row.exposure)} · {row.type}
            {row.divisor !== 1 ? `, full scale ${row.divisor}` : ''}
          </span>
        </span>
        <span className="pointer-events-auto flex items-center gap-2 rounded-md bg-black/75 px-2.5 py-1">
          <Choice
            label="Display stretch"
            value={bright}
            options={[
              { value: 'own', label: 'Own' },
              { value: 'shared', label: `Same as ${brightest.name}` },
            ]}
            onChange={setBright}
          />
          <Button small look="quiet" onClick={() => setHeader(true)}>
            Header
          </Button>
        </span>
      </div>
      {header && <HeaderDialog row={row} onClose={() => setHeader(false)} />}
    </div>
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
