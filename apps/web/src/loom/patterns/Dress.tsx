import { useState } from 'react';
import { Link } from 'react-router';
import { UserError } from '@owl-loom/base/errors';
import { withPaletteWeights } from '@owl-loom/recipe/palettes/recolour';
import type { Recipe } from '@owl-loom/recipe/schema';
import { api, faultText, useAllPalettesQuery, useSwatchesQuery } from '../../store/api';
import { store, useAppSelector } from '../../store/store';
import type { TargetCard } from '@owl-loom/api/targets';
import { Button } from '../../ui/controls';
import { Dialog } from '../../ui/Dialog';
import { useStacks } from '../../session/stacks-context';
import { WovenTile } from './WovenTile';

/** A palette in which the open recipe can be woven, or why it cannot. */
type Choice = { readonly name: string; readonly says: string } & (
  | { readonly recipe: Recipe }
  | { readonly why: string }
);

/** How far one of them has come. */
type State =
  | { readonly state: 'weaving' }
  | { readonly state: 'failed'; readonly why: string }
  | { readonly swatch: string };

/** Weaves the open recipe in several palettes; each is kept as a swatch, and the pictures come side by side as they are ready. */
export function Dress({ target, onClose }: { target: TargetCard; onClose: () => void }) {
  const recipe = useAppSelector((state) => state.draft.recipe);
  const recipeId = useAppSelector((state) => state.draft.id);
  const stacks = useStacks();
  const { data: palettes = [], error } = useAllPalettesQuery();
  const { data: swatches = [] } = useSwatchesQuery(target.id);
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [states, setStates] = useState<Readonly<Record<string, State>>>({});
  const begun = Object.keys(states).length > 0;

  const choices = palettes.map((palette): Choice => {
    const { name, says } = palette;
    try {
      if (!recipe) throw new UserError('no-recipe', 'There is no recipe open.');
      return { name, says, recipe: withPaletteWeights(recipe, palette, stacks) };
    } catch (error) {
      if (error instanceof UserError) return { name, says, why: error.message };
      throw error;
    }
  });

  const start = async (): Promise<void> => {
    if (!recipeId) return;
    const wanted = choices.filter(({ name }) => chosen.includes(name));
    setStates(Object.fromEntries(wanted.map(({ name }) => [name, { state: 'weaving' }])));
    for (const choice of wanted) {
      if (!('recipe' in choice)) continue;
      const asked = { target: target.id, recipeId, body: choice.recipe };
      const kept = await store.dispatch(api.endpoints.saveSwatch.initiate(asked));
      const state: State = kept.data ? { swatch: kept.data.id } : { state: 'failed', why: faultText(kept.error) };
      setStates((before) => ({ ...before, [choice.name]: state }));
    }
  };

  return (
    <Dialog
      wide
      open
      onOpenChange={(open) => !open && onClose()}
      title={`Weave ${recipe?.name ?? 'this'} in other palettes`}
    >
      {error ? (
        <p className="text-ember">{faultText(error)}</p>
      ) : begun ? (
        <ul className="grid grid-cols-2 gap-3">
          {Object.entries(states).map(([name, state]) => (
            <WovenTile
              key={name}
              name={name}
              swatch={'swatch' in state ? swatches.find(({ id }) => id === state.swatch) : undefined}
              why={'why' in state ? state.why : undefined}
            />
          ))}
        </ul>
      ) : (
        <>
          <ul className="max-h-[50vh] space-y-0.5 overflow-y-auto">
            {choices.map((choice) => (
              <li key={choice.name}>
                <label className="flex items-center gap-2.5 rounded-md px-2 py-1.5 hover:bg-shelf">
                  <input
                    type="checkbox"
                    className="accent-lamp"
                    disabled={'why' in choice}
                    checked={chosen.includes(choice.name)}
                    onChange={(event) =>
                      setChosen(
                        event.target.checked ? [...chosen, choice.name] : chosen.filter((name) => name !== choice.name),
                      )
                    }
                  />
                  <span className={`grow truncate ${'why' in choice ? 'text-hush' : ''}`}>{choice.name}</span>
                  <span className="max-w-96 truncate text-[12.5px] text-soft">
                    {'why' in choice ? choice.why : choice.says}
                  </span>
                </label>
              </li>
            ))}
          </ul>
          <p className="mt-3 text-[12.5px] text-hush">
            Only the weights of the lowest tie-up change. Each result is saved as a swatch.
          </p>
        </>
      )}
      <div className="mt-4 flex justify-end gap-2">
        {begun && (
          <Link
            to={`/targets/${target.id}/swatches`}
            className="inline-flex h-8 items-center px-3 text-soft hover:text-lamp"
          >
            Open in Swatches
          </Link>
        )}
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
