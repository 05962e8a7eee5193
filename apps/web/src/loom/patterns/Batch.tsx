import { useState } from 'react';
import { Link } from 'react-router';
import { withPreparation } from '@owl-loom/recipe/palettes/prepare';
import { missingFilters, type Palette, paletteFromRecipe, recipeFromPalette } from '@owl-loom/recipe/palettes/palette';
import { UserError } from '@owl-loom/base/errors';
import type { Recipe } from '@owl-loom/recipe/schema';
import { joinWithAnd } from '@owl-loom/base/join-words';
import { api, faultText, useSwatchesQuery, useTargetsQuery } from '../../store/api';
import { fetchStackAssessment } from '../../store/create-recipe';
import type { TargetCard } from '@owl-loom/api/targets';
import { store, useAppSelector } from '../../store/store';
import { Button } from '../../ui/controls';
import { Dialog } from '../../ui/Dialog';
import { useStacks } from '../../session/stacks-context';
import { WovenTile } from './WovenTile';

/** How far the weaving on one target has come. */
type State =
  | { readonly state: 'weaving' }
  | { readonly state: 'failed'; readonly why: string }
  | { readonly state: 'woven'; readonly recipeId: string };

/** Makes the recipe of a palette on a target, begun well, and has its picture woven. */
async function wovenOn(target: string, palette: Palette): Promise<State> {
  const rows = await store.dispatch(api.endpoints.stacks.initiate(target));
  if (!rows.data) return { state: 'failed', why: faultText(rows.error) };
  const { ground } = await fetchStackAssessment(target);
  try {
    const body: Recipe = withPreparation(recipeFromPalette(palette, rows.data), ground);
    const made = await store.dispatch(api.endpoints.addRecipe.initiate({ target, body }));
    if (!made.data) return { state: 'failed', why: faultText(made.error) };
    const recipeId = made.data.id;
    const kept = await store.dispatch(api.endpoints.saveSwatch.initiate({ target, recipeId, body }));
    return kept.error ? { state: 'failed', why: faultText(kept.error) } : { state: 'woven', recipeId };
  } catch (error) {
    if (error instanceof UserError) return { state: 'failed', why: error.message };
    throw error;
  }
}

/** Weaves the open recipe on other targets, by filters; the pictures come side by side as they are ready. */
export function Batch({ target, onClose }: { target: TargetCard; onClose: () => void }) {
  const recipe = useAppSelector((state) => state.draft.recipe);
  const stacks = useStacks();
  const { data: targets = [] } = useTargetsQuery();
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [states, setStates] = useState<Readonly<Record<string, State>>>({});
  const others = targets.filter(({ id }) => id !== target.id);
  const begun = Object.keys(states).length > 0;

  const palette = ((): Palette | string => {
    if (!recipe) return 'There is no recipe open.';
    try {
      return paletteFromRecipe(recipe, stacks, recipe.name ?? 'Untitled', '');
    } catch (error) {
      if (error instanceof UserError) return error.message;
      throw error;
    }
  })();

  const start = async (): Promise<void> => {
    if (typeof palette === 'string') return;
    setStates(Object.fromEntries(chosen.map((id) => [id, { state: 'weaving' }])));
    for (const id of chosen) {
      const state = await wovenOn(id, palette);
      setStates((before) => ({ ...before, [id]: state }));
    }
  };

  return (
    <Dialog
      wide
      open
      onOpenChange={(open) => !open && onClose()}
      title={`Weave ${recipe?.name ?? 'this'} on other targets`}
    >
      {typeof palette === 'string' ? (
        <p className="text-soft">{palette}</p>
      ) : begun ? (
        <ul className="grid grid-cols-2 gap-3">
          {chosen.map((id) => (
            <Result key={id} target={others.find((one) => one.id === id)} state={states[id]} />
          ))}
        </ul>
      ) : (
        <>
          <ul className="space-y-0.5">
            {others.map((one) => {
              const missing = missingFilters(
                palette,
                one.stacks.map((stack) => ({ ...stack, planes: 1 })),
              );
              return (
                <li key={one.id}>
                  <label className="flex items-center gap-2.5 rounded-md px-2 py-1.5 hover:bg-shelf">
                    <input
                      type="checkbox"
                      className="accent-lamp"
                      disabled={missing.length > 0}
                      checked={chosen.includes(one.id)}
                      onChange={(event) =>
                        setChosen(event.target.checked ? [...chosen, one.id] : chosen.filter((id) => id !== one.id))
                      }
                    />
                    <span className="grow">{one.name}</span>
                    {missing.length > 0 && (
                      <span className="text-[12.5px] text-soft">needs {joinWithAnd(missing)}</span>
                    )}
                  </label>
                </li>
              );
            })}
            {others.length === 0 && <li className="text-soft">No other targets yet.</li>}
          </ul>
          <p className="mt-3 text-[12.5px] text-hush">
            Each target gets its own recipe and swatch. Alignment and gradients are measured anew; crops and hand work
            are left out.
          </p>
        </>
      )}
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={onClose}>{begun ? 'Done' : 'Cancel'}</Button>
        {!begun && (
          <Button look="lamp" disabled={chosen.length === 0} onClick={() => void start()}>
            Weave
          </Button>
        )}
      </div>
    </Dialog>
  );
}

/** What has come of it on one target. */
function Result({ target, state }: { target: TargetCard | undefined; state: State | undefined }) {
  const { data: swatches = [] } = useSwatchesQuery(target?.id ?? '', { skip: !target });
  if (!target || !state) return null;
  const swatch = state.state === 'woven' ? swatches.find(({ recipeId }) => recipeId === state.recipeId) : undefined;
  return (
    <WovenTile
      name={target.name}
      swatch={swatch}
      why={state.state === 'failed' ? state.why : undefined}
      more={
        state.state === 'woven' && (
          <Link className="text-soft hover:text-lamp" to={`/targets/${target.id}/loom/${state.recipeId}`}>
            open it
          </Link>
        )
      }
    />
  );
}
