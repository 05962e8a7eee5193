import { ChevronDown } from 'lucide-react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { useNewRecipe } from '../store/create-recipe';
import { moveToTrash } from '../store/trash-actions';
import type { TargetCard } from '@owl-loom/api/targets';
import { store, useAppSelector } from '../store/store';
import { oneStrand } from '../document/recipe-presets';
import { download } from '../ui/download';
import { Menu } from '../ui/Menu';
import { KeepPalette } from './KeepPalette';
import { useStacks } from '../session/stacks-context';
import { Batch } from './patterns/Batch';
import { Dress } from './patterns/Dress';
import { KeepPattern } from './patterns/KeepPattern';
import { ThreadPattern } from './patterns/ThreadPattern';

/** The recipe as JSON, for a file on the user's own disk. */
function saveAsJson(): void {
  const { recipe } = store.getState().draft;
  if (!recipe) return;
  const bytes = new Blob([`${JSON.stringify(recipe, null, 2)}\n`], { type: 'application/json' });
  const address = URL.createObjectURL(bytes);
  download(address, `${recipe.name ?? 'recipe'}.json`);
  URL.revokeObjectURL(address);
}

/** Other recipes of the target, and what can be done with this one as a whole. */
export function RecipeMenu({ target }: { target: TargetCard }) {
  const id = useAppSelector((state) => state.draft.id);
  const { weave } = useNewRecipe(target.id);
  const [keeping, setKeeping] = useState<'palette' | 'pattern' | 'thread' | 'batch' | 'dress'>();
  const done = () => setKeeping(undefined);
  const navigate = useNavigate();
  const duplicate = (): void => {
    const { recipe } = store.getState().draft;
    if (recipe) void weave({ ...recipe, name: `${recipe.name ?? 'Untitled'} (copy)` });
  };
  const stacks = useStacks();
  const begin = (): void => {
    const [first] = stacks;
    if (first) void weave(oneStrand(first.name));
  };
  const go = async (): Promise<void> => {
    if (!id) return;
    await navigate(`/targets/${target.id}/stacks`);
    await moveToTrash('recipe', id, store.getState().draft.recipe?.name ?? 'This recipe');
  };
  return (
    <>
      <Menu
        items={[
          ...target.recipes
            .filter((row) => row.id !== id)
            .map((row) => ({
              label: `Open ${row.name}`,
              onSelect: () => void navigate(`/targets/${target.id}/loom/${row.id}`),
            })),
          {
            label: 'History',
            onSelect: () =>
              void navigate(`/targets/${target.id}/swatches?${new URLSearchParams({ show: 'states', of: id ?? '' })}`),
          },
          { label: 'New recipe', onSelect: begin },
          { label: 'Duplicate', onSelect: duplicate },
          { label: 'Save as palette …', onSelect: () => setKeeping('palette') },
          { label: 'Save as pattern …', onSelect: () => setKeeping('pattern') },
          { label: 'Apply pattern …', onSelect: () => setKeeping('thread') },
          { label: 'Weave in other palettes …', onSelect: () => setKeeping('dress') },
          { label: 'Weave on other targets …', onSelect: () => setKeeping('batch') },
          { label: 'Download as JSON', onSelect: saveAsJson },
          { label: 'Move to trash', danger: true, onSelect: () => void go() },
        ]}
      >
        <button
          type="button"
          aria-label="Recipes"
          title="Recipes"
          className="-ml-3 inline-flex size-6 items-center justify-center rounded-md text-hush hover:bg-shelf hover:text-text"
        >
          <ChevronDown size={14} />
        </button>
      </Menu>
      {keeping === 'palette' && <KeepPalette target={target} onClose={done} />}
      {keeping === 'pattern' && <KeepPattern onClose={done} />}
      {keeping === 'thread' && <ThreadPattern onClose={done} />}
      {keeping === 'batch' && <Batch target={target} onClose={done} />}
      {keeping === 'dress' && <Dress target={target} onClose={done} />}
    </>
  );
}
