import { Check, CloudOff, GitFork, LoaderCircle, TriangleAlert } from 'lucide-react';
import { Link, useParams } from 'react-router';
import { recipeOpened, saveFailed } from '../store/draft';
import { api } from '../store/api';
import { store, useAppSelector } from '../store/store';
import { Button, Hint } from '../ui/controls';

/** Puts our state on top of the one that was saved elsewhere, or takes that one; both stay in the history. */
async function settleConflict(mine: boolean): Promise<void> {
  const { id, recipe } = store.getState().draft;
  if (!id || !recipe) return;
  const { data } = await store.dispatch(api.endpoints.recipe.initiate(id, { forceRefetch: true, subscribe: false }));
  if (!data) return;
  if (mine) store.dispatch(saveFailed({ save: 'away', trouble: '', revision: data.revision }));
  else store.dispatch(recipeOpened({ id, recipe: data.body, revision: data.revision }));
}

/** Whether the last change is on disk, in sight all the time. */
export function SaveLine() {
  const save = useAppSelector((state) => state.draft.save);
  const trouble = useAppSelector((state) => state.draft.trouble);
  const id = useAppSelector((state) => state.draft.id);
  const { id: target } = useParams();
  if (save === 'conflict') {
    return (
      <span role="alert" className="flex items-center gap-2 text-ember">
        <GitFork size={14} /> Also changed in another window
        <Button small onClick={() => void settleConflict(true)}>
          Keep mine
        </Button>
        <Button small onClick={() => void settleConflict(false)}>
          Use the other
        </Button>
        {target && id && (
          <Link
            to={`/targets/${target}/swatches?${new URLSearchParams({ show: 'states', of: id })}`}
            target="_blank"
            className="underline hover:text-text"
          >
            Compare
          </Link>
        )}
      </span>
    );
  }
  if (save === 'refused') {
    return (
      <Hint text={trouble || 'This version cannot be saved. Undo the last change.'}>
        <span role="alert" tabIndex={0} className="flex items-center gap-1.5 text-ember">
          <TriangleAlert size={14} /> Cannot be saved: undo the last change
        </span>
      </Hint>
    );
  }
  if (save === 'away') {
    return (
      <Hint text={trouble || 'Kept in this browser tab; saved as soon as the server responds.'}>
        <span role="alert" tabIndex={0} className="flex items-center gap-1.5 text-ember">
          <CloudOff size={14} /> Not saved yet, retrying
        </span>
      </Hint>
    );
  }
  const busy = save !== 'kept';
  return (
    <span data-testid="save" data-state={save} className="flex items-center gap-1.5 text-hush" aria-live="polite">
      {busy ? <LoaderCircle size={13} className="animate-spin" /> : <Check size={13} />}
      <span className="max-[1400px]:sr-only">{busy ? 'Saving …' : 'Saved'}</span>
    </span>
  );
}
