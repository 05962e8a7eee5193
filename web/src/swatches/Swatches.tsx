import { useEffect, useMemo, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { COMPARES, type Compare } from '../stage/compare';
import { Stage } from '../stage/Stage';
import {
  faultText,
  type SheetEntry,
  useAddRecipeMutation,
  usePalettesQuery,
  useTargetQuery,
  useWeaveSheetMutation,
} from '../store/api';
import { useApp } from '../store/store';
import { tell } from '../store/tell';
import { Bar, Button, Choice } from '../ui/controls';
import { Frame } from '../ui/Frame';
import { Trouble } from '../ui/Trouble';
import { ContactSheet } from './ContactSheet';
import { useSheet } from './pictures';

const HOWS = COMPARES.flatMap(({ value, label }) => (value === 'off' ? [] : [{ value, label }]));

/** Nothing to follow: the picture is whole. */
const still = (): void => undefined;

/** Palettes woven on this target's own data: one large, two against each other, and the way to a recipe. */
export function Swatches() {
  const { id = '' } = useParams();
  const { data: target, error } = useTargetQuery(id);
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
  const sheet = useSheet(shown?.picture, other?.picture);
  const { width, height } = sheet?.bitmap ?? {};
  const frame = useMemo(() => (width && height ? { x: 0, y: 0, width, height } : undefined), [width, height]);
  if (!target || !data) {
    const fault = error ?? palettesError;
    return fault ? (
      <Trouble message={faultText(fault)} />
    ) : (
      <div className="flex h-full flex-col">
        <Frame target={target} />
        <p className="m-auto text-hush">looking at how the stacks lie and at their skies …</p>
      </div>
    );
  }
  const begin = async (): Promise<void> => {
    if (!shown?.recipe) return;
    const result = await add({ target: id, body: shown.recipe });
    tell(result);
    if (result.data) void navigate(`/targets/${id}/loom/${result.data.id}`);
  };
  return (
    <div className="flex h-full flex-col">
      <Frame target={target} />
      <main className="flex min-h-0 grow">
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
        <aside className="flex w-[25rem] shrink-0 flex-col border-l border-edge bg-room">
          <div className="flex h-9 shrink-0 items-center gap-3 px-4">
            <h1 className="font-semibold">Palettes on {target.name}</h1>
            {job && waiting && <Bar share={job.progress} className="ml-auto w-24" />}
            {stopped && (
              <Button small className="ml-auto" onClick={() => void weave(id)}>
                Weave the rest
              </Button>
            )}
          </div>
          <ContactSheet
            entries={data.entries}
            chosen={shown?.name}
            against={other?.name}
            stopped={stopped}
            onChoose={setChosen}
            onAgainst={setAgainst}
          />
        </aside>
      </main>
    </div>
  );
}
