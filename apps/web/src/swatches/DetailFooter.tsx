import { useMemo } from 'react';
import { useNavigate } from 'react-router';
import type { Recipe } from '@owl-loom/recipe/schema';
import { diffRecipes } from '@owl-loom/recipe/diff';
import { GO_BACK, TAKE_ONE } from '../session/restore-from-url';
import { useEditSwatchMutation, useRecipeQuery, useSwatchQuery, useWeaveSwatchMutation } from '../store/api';
import { useNewRecipe } from '../store/create-recipe';
import type { SwatchRow } from '@owl-loom/api/swatches';
import type { TargetCard } from '@owl-loom/api/targets';
import { showError } from '../store/show-error';
import { Button } from '../ui/controls';
import { TypedInPlace } from '../ui/InlineTextField';
import { type How, Pairing } from './LargePicture';
import { DiffList } from './DiffList';

/** Under the large picture: name and note, what differs in words, and the ways back. */
export function Foot({
  target,
  swatch,
  others,
  how,
  onHow,
  onAlone,
}: {
  target: TargetCard;
  swatch: SwatchRow;
  /** Those that it is held against. */
  others: readonly SwatchRow[];
  how: How;
  onHow: (how: How) => void;
  onAlone: () => void;
}) {
  const { id, name, note, recipeId, trouble, picture } = swatch;
  const [edit] = useEditSwatchMutation();
  const { weave: weaveRecipe, adding } = useNewRecipe(target.id);
  const [weave] = useWeaveSwatchMutation();
  const navigate = useNavigate();
  const own = target.recipes.find((row) => row.id === recipeId);
  const { data: state } = useSwatchQuery(id);
  const { data: now } = useRecipeQuery(recipeId, {
    skip: !own || others.length > 0,
    // It may have gone on in the Loom a moment ago.
    refetchOnMountOrArgChange: true,
  });
  const since = useMemo(() => (state && now ? diffRecipes(state.body, now.body) : undefined), [state, now]);
  const alone = others.length === 0;
  return (
    <footer className="shrink-0 space-y-2 border-t border-edge bg-board px-4 py-2">
      <div className="flex items-center gap-4">
        <div className="min-w-0 grow">
          <TypedInPlace
            label="name"
            value={name}
            most={200}
            className="-ml-2 w-full min-w-0 font-semibold"
            onKeep={(to) => to.trim() && void edit({ id, change: { name: to } }).then(showError)}
          />
          <TypedInPlace
            label="Note"
            value={note}
            most={2000}
            className="-ml-2 w-full min-w-0 text-[12.5px] text-soft"
            onKeep={(to) => void edit({ id, change: { note: to } }).then(showError)}
          />
        </div>
        {!alone && <Pairing names={others.map((one) => one.name)} how={how} onHow={onHow} onAlone={onAlone} />}
        {!picture && trouble && (
          <Button small onClick={() => void weave(id).then(showError)}>
            Retry
          </Button>
        )}
        <Button small disabled={!state || adding} onClick={() => state && void weaveRecipe({ ...state.body, name })}>
          New recipe from this
        </Button>
        {own && (
          <Button
            look="lamp"
            small
            onClick={() => void navigate(`/targets/${target.id}/loom/${own.id}?${GO_BACK}=${id}`)}
          >
            Restore
          </Button>
        )}
      </div>
      {alone && since && (
        <DiffList
          title={`Changes in ${own?.name ?? 'its recipe'} since then`}
          differences={since}
          onTake={
            own &&
            ((where) =>
              void navigate(
                `/targets/${target.id}/loom/${own.id}?${new URLSearchParams({ [GO_BACK]: id, [TAKE_ONE]: where })}`,
              ))
          }
        />
      )}
      {!alone && state && (
        <div className="grid gap-x-6" style={{ gridTemplateColumns: `repeat(${others.length}, minmax(0, 1fr))` }}>
          {others.map((other) => (
            <FromOther key={other.id} other={other} name={name} body={state.body} narrow={others.length > 1} />
          ))}
        </div>
      )}
    </footer>
  );
}

/** What differs between another swatch and this one. */
function FromOther({
  other,
  name,
  body,
  narrow,
}: {
  other: SwatchRow;
  name: string;
  body: Recipe;
  /** Whether it stands beside others of its kind. */
  narrow: boolean;
}) {
  const { data } = useSwatchQuery(other.id);
  const differences = useMemo(() => data && diffRecipes(data.body, body), [data, body]);
  return differences && <DiffList title={`From ${other.name} to ${name}`} differences={differences} narrow={narrow} />;
}
