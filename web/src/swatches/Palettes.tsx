import { type ReactNode, useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import type { Compare } from '../stage/compare';
import { Stage } from '../stage/Stage';
import {
  faultText,
  type SheetEntry,
  type TargetCard,
  useAddRecipeMutation,
  usePalettesQuery,
  useWeaveSheetMutation,
} from '../store/api';
import { useApp } from '../store/store';
import { tell } from '../store/tell';
import { Bar, Button, Choice } from '../ui/controls';
import { Trouble } from '../ui/Trouble';
import { ContactSheet } from './ContactSheet';
import { Aside, HOWS } from './Aside';
import { sheetPicture, useFrameOf, useSheet } from './pictures';

/** Nothing to follow: the picture is whole. */
const still = (): void => undefined;

/** Palettes woven on this target's own data: one large, two against each other, and the way to a recipe. */
export function Palettes({ target, tabs }: { target: TargetCard; tabs: ReactNode }) {
  const { id } = target;
  const { data, error: palettesError } = usePalettesQuery(id);
  const [weave, { error: weaveError }] = useWeaveSheetMutation();
  const [add, { isLoading: adding }] = useAddRecipeMutation();
  const [chosen, setChosen] = useState<string>();
  const [against, setAgainst] = useState<string>();
  const [how, setHow] = useState<Exclude<Compare, 'off'>>('wipe');
  const jobs = useApp((state) => state.live.jobs);
  const navigate = useNavigate();
  const entries = data?.entries;
  const waiting = entries?.some(({ picture, ready, trouble }) => picture && !ready && !trouble) ?? false;
  // Asked for once a set of pictures that are missing; what is woven already is not woven again.
  const first = entries !== undefined;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the first list, and whatever changes which pictures there should be
  useEffect(() => {
    if (first && waiting) void weave(id);
  }, [first, id, entries?.map(({ picture }) => picture).join(' ')]);
  const own = Object.values(jobs).filter(({ kind, targetId }) => kind === 'sheet' && targetId === id);
  const job = own.find(({ state }) => state === 'running' || state === 'queued');
  const stopped = waiting && !job && own.some(({ state }) => state === 'cancelled' || state === 'failed');
  const shown: SheetEntry | undefined =
    entries?.find(({ name, ready }) => ready && name === chosen) ?? entries?.find(({ ready }) => ready);
  const other = entries?.find(({ name, ready }) => ready && name === against && name !== shown?.name);
  const sheet = useSheet(sheetPicture(shown?.picture), sheetPicture(other?.picture));
  const frame = useFrameOf(sheet);
  if (!data)
    return (
      <>
        <section className="grid min-w-0 grow place-items-center">
          {palettesError ? (
            <Trouble message={faultText(palettesError)} />
          ) : (
            <p className="text-hush">looking at how the stacks lie and at their skies …</p>
          )}
        </section>
        <Aside tabs={tabs} />
      </>
    );
  const begin = async (): Promise<void> => {
    if (!shown?.recipe) return;
    const result = await add({ target: id, body: shown.recipe });
    tell(result);
    if (result.data) void navigate(`/targets/${id}/loom/${result.data.id}`);
  };
  return (
    <>
      <section className="flex min-w-0 grow flex-col">
        <div className="min-h-0 grow">
          <Stage
            frame={frame}
            sheet={sheet}
            compare={other ? how : 'off'}
            names={other && shown ? [other.name, shown.name] : undefined}
            onLook={still}
            marks={{ 'data-testid': 'swatch', 'data-shown': sheet ? shown?.name : undefined }}
          >
            {!shown && (
              <p className="absolute inset-0 grid place-items-center text-hush">
                {stopped
                  ? 'stopped before the first of them was woven'
                  : waiting && !weaveError
                    ? 'weaving the first of them …'
                    : weaveError
                      ? faultText(weaveError)
                      : 'No palette can be woven yet: say in Stacks which filter each stack is.'}
              </p>
            )}
          </Stage>
        </div>
        {shown && (
          <footer className="flex min-h-14 shrink-0 items-center gap-5 border-t border-edge bg-board px-4 py-2">
            <div className="min-w-0 grow">
              <p className="truncate font-semibold">{shown.name}</p>
              <p className="truncate text-[12.5px] text-soft">{shown.says}</p>
            </div>
            {other && (
              <>
                <Choice hideLabel label={`against ${other.name}`} value={how} options={HOWS} onChange={setHow} />
                <Button small onClick={() => setAgainst(undefined)}>
                  One alone
                </Button>
              </>
            )}
            <Button look="lamp" disabled={adding} onClick={() => void begin()}>
              Weave it
            </Button>
          </footer>
        )}
      </section>
      <Aside
        tabs={tabs}
        head={
          <>
            {job && waiting && <Bar share={job.progress} className="ml-auto w-24" />}
            {stopped && (
              <Button small className="ml-auto" onClick={() => void weave(id)}>
                Weave the rest
              </Button>
            )}
          </>
        }
      >
        <ContactSheet
          entries={data.entries}
          chosen={shown?.name}
          against={other?.name}
          stopped={stopped}
          onChoose={setChosen}
          onAgainst={setAgainst}
        />
      </Aside>
    </>
  );
}
