import { useEffect } from 'react';
import { useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { withThing } from '../../../core/recipe/take-one';
import { faultText, useSwatchQuery } from '../store/api';
import { changed } from '../store/draft';
import { store, useApp, useSend } from '../store/store';

/** The name under which the address of a Loom says to which swatch its recipe goes back. */
export const GO_BACK = 'back-to';

/** The name under which it says what alone is taken from that swatch. */
export const TAKE_ONE = 'only';

/** Brings the open recipe back to a swatch that the address names, or takes one thing from it: one change, which one undo takes back. */
export function useSwatchToGoBackTo(recipeId: string): void {
  const [search, setSearch] = useSearchParams();
  const wanted = search.get(GO_BACK);
  const only = search.get(TAKE_ONE);
  const { data: swatch, error } = useSwatchQuery(wanted ?? '', { skip: wanted === null });
  const open = useApp((state) => state.draft.id);
  const send = useSend();
  useEffect(() => {
    if (!wanted || open !== recipeId || (!error && swatch?.id !== wanted)) return;
    if (error) toast.error(faultText(error));
    else if (swatch && only === null) send(changed({ recipe: swatch.body, chosen: 'cloth' }));
    else if (swatch && only !== null) {
      const { recipe } = store.getState().draft;
      const mixed = recipe && withThing(recipe, swatch.body, only);
      if (mixed) send(changed({ recipe: mixed, chosen: 'cloth' }));
      else toast.error(`${only} cannot be taken by itself; other parts of the recipe read it.`);
    }
    setSearch({}, { replace: true });
  }, [wanted, only, open, recipeId, swatch, error, send, setSearch]);
}
