import { type ReactNode, useState } from 'react';
import { faultText, usePalettesQuery, useWeaveSheetMutation } from '../store/api';
import { useNewRecipe } from '../store/create-recipe';
import type { SheetEntry } from '@owl-loom/api/palettes';
import type { TargetCard } from '@owl-loom/api/targets';
import { isActive } from '../store/active-jobs';
import { useAppSelector } from '../store/store';
import { Bar, Button } from '../ui/controls';
import { Trouble } from '../ui/ErrorText';
import { ContactSheet } from './ContactSheet';
import { Aside } from './ThumbnailColumn';
import { type How, Large, Pairing, type Shown } from './LargePicture';
import { sheetPicture } from '../store/thumbnail-urls';
import { PaletteDown, PaletteDrop } from './PaletteFiles';
import { useComparisonSelection } from './use-comparison';
import { useKeyedEffect } from '../ui/use-keyed-effect';

/** Palettes woven on this target's own data: one large, others held against it, and the way to a recipe. */
export function Palettes({ target, tabs }: { target: TargetCard; tabs: ReactNode }) {
  const { id } = target;
  const { data, error: palettesError } = usePalettesQuery(id);
  const [weave, { error: weaveError }] = useWeaveSheetMutation();
  const { weave: weaveRecipe, adding } = useNewRecipe(id);
  const [chosen, setChosen] = useState<string>();
  const { held, turn, none } = useComparisonSelection();
  const [how, setHow] = useState<How>('wipe');
  const jobs = useAppSelector((state) => state.live.jobs);
  const entries = data?.entries;
  const waiting = entries?.some(({ picture, ready, trouble }) => picture && !ready && !trouble) ?? false;
  // Asked for once a set of pictures that are missing; what is woven already is not woven again.
  const first = entries !== undefined;
  // The first list, and whatever changes which pictures there should be.
  useKeyedEffect(() => {
    if (first && waiting) void weave(id);
  }, [first, id, entries?.map(({ picture }) => picture).join(' ')]);
  const own = Object.values(jobs).filter(({ kind, targetId }) => kind === 'sheet' && targetId === id);
  const job = own.find(isActive);
  const stopped = waiting && !job && own.some(({ state }) => state === 'cancelled' || state === 'failed');
  const shown: SheetEntry | undefined =
    entries?.find(({ name, ready }) => ready && name === chosen) ?? entries?.find(({ ready }) => ready);
  const others = held.flatMap(
    (wanted) => entries?.filter(({ name, ready }) => ready && name === wanted && name !== shown?.name) ?? [],
  );
  const pictured = (entry: SheetEntry | undefined): Shown[] => {
    const picture = sheetPicture(entry?.picture);
    return entry && picture ? [{ id: entry.name, name: entry.name, picture }] : [];
  };
  const names = others.map(({ name }) => name);
  if (!data)
    return (
      <>
        <section className="grid min-w-0 grow place-items-center">
          {palettesError ? (
            <Trouble message={faultText(palettesError)} />
          ) : (
            <p className="text-hush">Measuring alignment and sky …</p>
          )}
        </section>
        <Aside tabs={tabs} />
      </>
    );
  const instead = stopped
    ? 'Stopped. Press “Weave the rest”.'
    : weaveError
      ? faultText(weaveError)
      : waiting
        ? 'Weaving …'
        : 'No palette available. Set the filter of each stack in Stacks.';
  return (
    <PaletteDrop>
      {(choose) => (
        <>
          <section className="flex min-w-0 grow flex-col">
            <Large shown={pictured(shown)[0]} others={others.flatMap(pictured)} how={how} instead={instead} />
            {shown && (
              <footer className="flex min-h-14 shrink-0 items-center gap-5 border-t border-edge bg-board px-4 py-2">
                <div className="min-w-0 grow">
                  <p className="truncate font-semibold">{shown.name}</p>
                  <p className="truncate text-[12.5px] text-soft">{shown.says}</p>
                </div>
                {names.length > 0 && <Pairing names={names} how={how} onHow={setHow} onAlone={none} />}
                <PaletteDown entry={shown} />
                <Button look="lamp" disabled={adding} onClick={() => shown.recipe && void weaveRecipe(shown.recipe)}>
                  Weave
                </Button>
              </footer>
            )}
          </section>
          <Aside
            tabs={tabs}
            head={
              <>
                {choose}
                {job && waiting && <Bar label={job.title} share={job.progress} className="ml-auto w-24" />}
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
              against={names}
              stopped={stopped}
              onChoose={setChosen}
              onAgainst={turn}
            />
          </Aside>
        </>
      )}
    </PaletteDrop>
  );
}
