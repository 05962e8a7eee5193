import { useState } from 'react';
import { Link } from 'react-router';
import { pinnedStepsAffectedBy } from '@owl-loom/recipe/stack-replacement';
import type { Recipe } from '@owl-loom/recipe/schema';
import { useCoverQuery, useRecipeQuery, useSaveRecipeMutation, useSwatchesQuery } from '../store/api';
import { setAtPath, stepAt } from '@owl-loom/recipe/paths';
import type { ReplacementRow } from '@owl-loom/api/palettes';
import type { TargetCard } from '@owl-loom/api/targets';
import { showError } from '../store/show-error';
import { swatchPicture } from '../store/thumbnail-urls';
import { Button } from '../ui/controls';
import { Dialog } from '../ui/Dialog';
import { imageName, stepName } from '@owl-loom/recipe/names';

/** Every recipe that reads a renewed stack, as it was and as it is, and the pinned measurements that should be let go. */
export function RenewalLook({
  target,
  renewal,
  onClose,
}: {
  target: TargetCard;
  renewal: ReplacementRow;
  onClose: () => void;
}) {
  const { data: swatches = [] } = useSwatchesQuery(target.id);
  return (
    <Dialog
      wide
      open
      onOpenChange={(open) => !open && onClose()}
      title={`Before and after the newer ${renewal.stackName}`}
    >
      <ul className="space-y-4">
        {renewal.kept.map(({ recipeId, swatchId }) => {
          const recipe = target.recipes.find(({ id }) => id === recipeId);
          if (!recipe) return null;
          const swatch = swatches.find(({ id }) => id === swatchId);
          return (
            <li key={swatchId} className="space-y-2">
              <Pair
                name={recipe.name}
                before={swatchPicture(swatch?.picture)}
                why={swatch?.trouble ?? undefined}
                id={recipeId}
                changed={recipe.updatedAt}
              />
              <div className="flex items-center justify-between gap-3">
                <Link className="hover:text-lamp" to={`/targets/${target.id}/loom/${recipeId}`}>
                  {recipe.name}
                </Link>
                <Held id={recipeId} stack={renewal.stackName} />
              </div>
            </li>
          );
        })}
      </ul>
    </Dialog>
  );
}

/** The old picture and the new one, the new one laid over as far as one has drawn it. */
function Pair({
  name,
  before,
  why,
  id,
  changed,
}: {
  name: string;
  before: string | undefined;
  why: string | undefined;
  id: string;
  changed: string;
}) {
  const { data } = useCoverQuery({ id, changed });
  const [edge, setEdge] = useState(50);
  const after = data?.name && data.fresh ? `/api/covers/${data.name}` : undefined;
  const empty = (text: string) => (
    <p className="grid size-full place-items-center px-6 text-center text-soft">{text}</p>
  );
  return (
    <div className="relative h-72 overflow-hidden rounded-lg border border-edge bg-pit">
      {before ? (
        <img src={before} alt={`${name} before`} className="size-full object-contain" />
      ) : (
        empty(why ?? 'No older picture')
      )}
      <div className="absolute inset-0 bg-pit" style={{ clipPath: `inset(0 0 0 ${edge}%)` }}>
        {after ? <img src={after} alt={`${name} now`} className="size-full object-contain" /> : empty('Weaving …')}
      </div>
      <input
        type="range"
        aria-label={`How much of ${name} is shown as it was`}
        min={0}
        max={100}
        value={edge}
        onChange={(event) => setEdge(Number(event.target.value))}
        className="absolute inset-x-3 bottom-3 h-[3px] cursor-ew-resize appearance-none rounded-full bg-rim [&::-moz-range-thumb]:h-4 [&::-moz-range-thumb]:w-2.5 [&::-moz-range-thumb]:rounded-[3px] [&::-moz-range-thumb]:border-0 [&::-moz-range-thumb]:bg-text [&::-webkit-slider-thumb]:h-4 [&::-webkit-slider-thumb]:w-2.5 [&::-webkit-slider-thumb]:appearance-none [&::-webkit-slider-thumb]:rounded-[3px] [&::-webkit-slider-thumb]:bg-text"
      />
      <span className="absolute top-2 left-2 rounded bg-black/75 px-2 py-0.5 text-[12.5px]">before</span>
      <span className="absolute top-2 right-2 rounded bg-black/75 px-2 py-0.5 text-[12.5px]">now</span>
    </div>
  );
}

/** Measurements that were pinned on what the stack was, and the press that lets them go. */
function Held({ id, stack }: { id: string; stack: string }) {
  const { data } = useRecipeQuery(id);
  const [save, { isLoading }] = useSaveRecipeMutation();
  const [freed, setFreed] = useState(false);
  if (!data) return null;
  const held = freed ? [] : pinnedStepsAffectedBy(data.body, stack);
  if (held.length === 0)
    return <span className="text-[12.5px] text-soft">{freed ? 'Unpinned' : 'No pinned measurements'}</span>;
  const names = held.map((path) => `${stepName(stepAt(data.body, path)?.do ?? '')} of ${imageName(data.body, path)}`);
  const go = async (): Promise<void> => {
    const body = held.reduce<Recipe>((next, path) => setAtPath(next, `${path}.hold`, undefined), data.body);
    const result = await save({ id, parent: data.revision, body });
    showError(result);
    setFreed(!result.error);
  };
  return (
    <span className="flex items-center gap-2.5 text-[12.5px] text-ember">
      Pinned to the old file: {names.join(', ')}
      <Button small disabled={isLoading} onClick={() => void go()}>
        Unpin
      </Button>
    </span>
  );
}
