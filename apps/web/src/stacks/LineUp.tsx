import { many } from '@owl-loom/base/join-words';
import { Maximize2, Minimize2 } from 'lucide-react';
import { toast } from 'sonner';
import { isAligned, describeMisalignment } from '@owl-loom/algorithms/registration/misalignment';
import type { Compare } from '../image-view/compare';
import { api, faultText } from '../store/api';
import type { StackRow } from '@owl-loom/api/stacks';
import type { TargetCard } from '@owl-loom/api/targets';
import { store } from '../store/store';
import { Button, Choice, IconButton } from '../ui/controls';
import { filterColour } from '@owl-loom/recipe/filter-colours';
import { Pick } from '../ui/Select';
import type { Found } from './misalignments';
import { type Way, addAlignSteps } from './line-up';

/** What is held against the reference, and how. */
export interface LineUpState {
  /** Id of the stack behind; undefined while a single stack is shown. */
  readonly behind: string | undefined;
  readonly how: Exclude<Compare, 'off'> | 'difference';
  readonly aligned: boolean;
}

const HOWS: readonly { value: LineUpState['how']; label: string }[] = [
  { value: 'blink', label: 'blink' },
  { value: 'wipe', label: 'wipe' },
  { value: 'difference', label: 'difference' },
  { value: 'side', label: 'Side by side' },
];

/** How a stack is aligned that was found to lie so. */
const wayOf = (found: Found | undefined): Way =>
  found && 'lie' in found && found.byStructures ? 'structures' : 'stars';

/** Gives every recipe of the target the alignments that it lacks; says how many were changed. */
async function mend(target: TargetCard, moved: ReadonlyMap<string, Way>, reference: string): Promise<void> {
  let changed = 0;
  for (const { id, name } of target.recipes) {
    const { data, error } = await store.dispatch(
      api.endpoints.recipe.initiate(id, { forceRefetch: true, subscribe: false }),
    );
    if (!data) {
      toast.error(faultText(error));
      return;
    }
    const body = addAlignSteps(data.body, moved, reference);
    if (body === data.body) continue;
    const { error: fault } = await store.dispatch(
      api.endpoints.saveRecipe.initiate({ id, parent: data.revision, body }),
    );
    if (fault) toast.error(`${name}: ${faultText(fault)}`);
    else changed++;
  }
  if (changed === 0)
    toast.info('No recipe changed: each already aligns or places these stacks, or does not use the reference.');
  else
    toast.success(
      `${[...moved.keys()].join(', ')} ${moved.size === 1 ? 'is' : 'are'} now aligned to ${reference} in ${many(changed, 'recipe')}.`,
    );
}

interface LineUpProps {
  readonly target: TargetCard;
  readonly rows: readonly StackRow[];
  readonly reference: StackRow;
  readonly lies: ReadonlyMap<string, Found>;
  readonly state: LineUpState;
  readonly tall: boolean;
  readonly onReference: (id: string) => void;
  readonly onState: (next: Partial<LineUpState>) => void;
  readonly onTall: (tall: boolean) => void;
}

/** How the stacks lie on each other, in words; a press shows it, another mends it. */
export function LineUp({ target, rows, reference, lies, state, tall, onReference, onState, onTall }: LineUpProps) {
  const others = rows.filter((row) => row.id !== reference.id);
  const moved = others.filter((row) => {
    const found = lies.get(row.id);
    return found && 'lie' in found && !isAligned(found.lie);
  });
  return (
    <aside
      aria-label="Alignment"
      className="flex w-80 shrink-0 flex-col gap-3 overflow-y-auto border-l border-edge bg-board px-4 py-3"
    >
      <header className="flex items-center justify-between">
        <h2 className="text-[15px] font-semibold">Alignment</h2>
        <IconButton label={tall ? 'Show the table' : 'Larger picture'} onClick={() => onTall(!tall)}>
          {tall ? <Minimize2 size={15} /> : <Maximize2 size={15} />}
        </IconButton>
      </header>
      <Pick
        label="Reference"
        value={reference.id}
        options={rows.map((row) => ({ value: row.id, label: row.name }))}
        onChange={onReference}
      />
      <ul className="space-y-0.5">
        {others.map((row) => {
          const found = lies.get(row.id);
          const well = found && 'lie' in found && isAligned(found.lie);
          return (
            <li key={row.id}>
              <button
                type="button"
                aria-pressed={state.behind === row.id}
                onClick={() => onState({ behind: state.behind === row.id ? undefined : row.id })}
                className={`flex w-full items-baseline gap-2.5 rounded-md px-2 py-1.5 text-left hover:bg-shelf ${state.behind === row.id ? 'bg-shelf' : ''}`}
              >
                <span className="size-2 shrink-0 rotate-45" style={{ background: filterColour(row.filter) }} />
                <span className="w-14 shrink-0 truncate font-medium">{row.name}</span>
                <span
                  className={`text-[13px] leading-snug first-letter:uppercase ${!found ? 'text-hush' : well ? 'text-soft' : 'text-ember'}`}
                >
                  {!found
                    ? 'Measuring …'
                    : 'lie' in found
                      ? describeMisalignment(found.lie) + (found.byStructures ? ', by structures' : '')
                      : found.trouble}
                </span>
              </button>
            </li>
          );
        })}
      </ul>
      {moved.length > 0 && target.recipes.length > 0 && (
        <Button
          look="lamp"
          small
          className="self-start"
          onClick={() =>
            void mend(target, new Map(moved.map((row) => [row.name, wayOf(lies.get(row.id))])), reference.name)
          }
        >
          Align {moved.length === 1 ? moved[0].name : `${moved.length} stacks`} in every recipe
        </Button>
      )}
      {state.behind ? (
        <div className="space-y-2 border-t border-edge pt-3">
          <Choice label="View" value={state.how} options={HOWS} onChange={(how) => onState({ how })} />
          <Choice
            label="Position"
            value={state.aligned ? 'aligned' : 'as it is'}
            options={[
              { value: 'as it is', label: 'Original' },
              { value: 'aligned', label: 'aligned' },
            ]}
            onChange={(value) => onState({ aligned: value === 'aligned' })}
          />
        </div>
      ) : (
        <p className="text-[12.5px] text-hush">Select a stack to compare it with {reference.name}.</p>
      )}
    </aside>
  );
}
