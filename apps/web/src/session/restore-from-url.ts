import { useEffect } from 'react';
import { useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { withPartFrom } from '@owl-loom/recipe/restore-part';
import { faultText, useStateQuery, useSwatchQuery } from '../store/api';
import { recipeChanged } from '../store/draft';
import { store, useAppSelector, useAppDispatch } from '../store/store';

/** The name under which the address of a Loom says to which swatch its recipe goes back. */
export const GO_BACK = 'back-to';

/** The name under which it says to which of its own earlier states. */
export const BRING_BACK = 'state';

/** The name under which it says what alone is taken from that swatch. */
export const TAKE_ONE = 'only';

/**
 * Brings the open recipe back to a swatch or an earlier state that the address names, or takes one thing from a swatch: one change, which one
 * undo takes back.
 */
export function useStateToGoBackTo(recipeId: string): void {
  const [search, setSearch] = useSearchParams();
  const [swatchId, stateId, only] = [GO_BACK, BRING_BACK, TAKE_ONE].map((name) => search.get(name));
  const swatch = useSwatchQuery(swatchId ?? '', { skip: swatchId === null });
  const state = useStateQuery(stateId ?? '', { skip: stateId === null });
  const wanted = swatchId ?? stateId;
  const { data, error } = swatchId === null ? state : swatch;
  const open = useAppSelector((all) => all.draft.id);
  const send = useAppDispatch();
  useEffect(() => {
    if (!wanted || open !== recipeId || (!error && data?.id !== wanted)) return;
    if (error) toast.error(faultText(error));
    else if (data && only === null) send(recipeChanged({ recipe: data.body, chosen: 'cloth' }));
    else if (data && only !== null) {
      const { recipe } = store.getState().draft;
      const mixed = recipe && withPartFrom(recipe, data.body, only);
      if (mixed) send(recipeChanged({ recipe: mixed, chosen: 'cloth' }));
      else toast.error(`${only} cannot be applied alone: other parts of the recipe use it.`);
    }
    setSearch({}, { replace: true });
  }, [wanted, only, open, recipeId, data, error, send, setSearch]);
}
