import { compareFilters } from '@owl-loom/image/metadata/filter';
import { ArrowRight } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import { withPreparation } from '@owl-loom/recipe/palettes/prepare';
import { faultText, useStacksQuery, useTargetQuery } from '../store/api';
import { fetchStackAssessment, useNewRecipe } from '../store/create-recipe';
import { showError } from '../store/show-error';
import { Lead } from '../onboarding/Onboarding';
import { completeStep } from '../onboarding/onboarding';
import { Frame } from '../frame/AppFrame';
import { Trouble } from '../ui/ErrorText';
import { DropZone } from './DropZone';
import { useMisalignments } from './misalignments';
import { Inbox } from './Inbox';
import { Lacking } from './MissingFilesBanner';
import { LineUp, type LineUpState } from './LineUp';
import { OddOnes } from './InconsistencyBanner';
import { Preview } from './Preview';
import { Renewals } from './Replacements';
import { StackTable } from './StackTable';
import { useUploads } from './use-uploads';
import { hasPalettes, type Start, recipePresets } from '../document/recipe-presets';

/** How long no stack must have come in before the rest is looked at ahead, ms. */
const QUIET = 1500;

/** A target's stacks: bring them in, see which is which, and begin to weave. */
export function Stacks() {
  const { id = '' } = useParams();
  const { data: target, error } = useTargetQuery(id);
  const { data: stacks, error: stacksError } = useStacksQuery(id);
  const [chosen, setChosen] = useState<string>();
  const [referenceId, setReference] = useState<string>();
  const [lineUp, setLineUp] = useState<LineUpState>({ behind: undefined, how: 'blink', aligned: false });
  const [tall, setTall] = useState(false);
  const uploads = useUploads(id);
  const { weave } = useNewRecipe(id);
  const [beginning, setBeginning] = useState<string>();
  const rows = useMemo(() => [...(stacks ?? [])].sort((a, b) => compareFilters(a.filter, b.filter)), [stacks]);
  // Broadband stacks have most stars to lie on, and most often lie alike.
  const reference =
    rows.find((row) => row.id === referenceId) ??
    ['L', 'R', 'G'].map((filter) => rows.find((row) => row.filter === filter)).find((row) => row !== undefined) ??
    rows[0];
  // Looked at ahead, once no more stacks come in, so that a start opens at once; where that fails, the start says so.
  useEffect(() => {
    // What lacks its pixels cannot be looked at, and says so itself.
    if (!stacks || stacks.length === 0 || stacks.some(({ lacking }) => lacking)) return undefined;
    const soon = setTimeout(() => void fetchStackAssessment(id), QUIET);
    return () => clearTimeout(soon);
  }, [id, stacks]);
  const lies = useMisalignments(id, rows, rows.length > 1 ? reference : undefined);
  if (!target || !stacks)
    return error || stacksError ? (
      <Trouble message={faultText(error ?? stacksError)} />
    ) : (
      <div className="h-full bg-pit" />
    );
  const shown = rows.find((row) => row.id === chosen) ?? rows[0];
  const choose = (row: string): void => {
    setChosen(row);
    setLineUp((before) => ({ ...before, behind: undefined }));
  };
  const begin = async (start: Start): Promise<void> => {
    setBeginning(start.name);
    const { ground, error: unlooked } = await fetchStackAssessment(id);
    showError({ error: unlooked });
    await weave(withPreparation(start.recipe, ground));
    setBeginning(undefined);
    completeStep('begin');
  };
  return (
    <div className="flex h-full flex-col">
      <Frame target={target} />
      {rows.length === 0 ? (
        <main className="mx-auto w-full max-w-2xl grow p-10">
          <h1 className="mb-6 text-[20px] font-semibold">Bring in the stacks of {target.name}</h1>
          <DropZone target={id} uploads={uploads} compact={false} />
          <div className="mt-4">
            <Inbox target={id} />
          </div>
        </main>
      ) : (
        <main className="flex min-h-0 grow flex-col">
          <div className="flex min-h-0 grow">
            <div className="min-w-0 grow">
              <Preview target={id} row={shown} rows={rows} reference={reference} state={lineUp} />
            </div>
            {rows.length > 1 && (
              <LineUp
                target={target}
                rows={rows}
                reference={reference}
                lies={lies}
                state={lineUp}
                tall={tall}
                onReference={setReference}
                onState={(next) => setLineUp((before) => ({ ...before, ...next }))}
                onTall={setTall}
              />
            )}
          </div>
          <div hidden={tall} className="max-h-[42%] shrink-0 overflow-y-auto border-t border-edge px-4 pb-3">
            <StackTable rows={rows} chosen={shown.id} onChoose={choose} />
          </div>
          <Lacking rows={rows} />
          <OddOnes target={id} rows={rows} />
          <Renewals target={target} />
          <Lead step="begin">
            Check the filter of every stack, then start with one of these. Everything can be changed later.
          </Lead>
          <footer className="flex shrink-0 flex-wrap items-end gap-x-6 gap-y-3 border-t border-edge bg-board px-4 py-3">
            <div className="min-w-80 grow">
              <DropZone target={id} uploads={uploads} compact />
            </div>
            <div className="pb-2.5">
              <Inbox target={id} />
            </div>
            <div className="flex flex-wrap items-center gap-2 pb-1.5">
              <span className="text-hush">Weave</span>
              {recipePresets(rows).map((start) => (
                <button
                  key={start.name}
                  type="button"
                  title={start.says}
                  disabled={beginning !== undefined}
                  onClick={() => void begin(start)}
                  className="disabled:text-hush inline-flex items-center gap-1.5 rounded-md border border-edge px-3 py-1.5 hover:border-lamp hover:text-lamp"
                >
                  {beginning === start.name ? 'Measuring the sky …' : start.name} <ArrowRight size={13} />
                </button>
              ))}
              {hasPalettes(rows) && (
                <Link to={`/targets/${id}/swatches`} className="px-1.5 text-soft hover:text-lamp">
                  All palettes
                </Link>
              )}
            </div>
          </footer>
        </main>
      )}
    </div>
  );
}
