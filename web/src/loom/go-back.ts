import { useEffect } from 'react';
import { useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { faultText, useSwatchQuery } from '../store/api';
import { changed } from '../store/draft';
import { useApp, useSend } from '../store/store';

/** The name under which the address of a Loom says to which swatch its recipe goes back. */
export const GO_BACK = 'back-to';

/** Brings the open recipe back to a swatch that the address names: one change, which one undo takes back. */
export function useSwatchToGoBackTo(recipeId: string): void {
  const [search, setSearch] = useSearchParams();
  const wanted = search.get(GO_BACK);
  const { data: swatch, error } = useSwatchQuery(wanted ?? '', { skip: wanted === null });
  const open = useApp((state) => state.draft.id);
  const send = useSend();
  useEffect(() => {
    if (!wanted || open !== recipeId || (!error && swatch?.id !== wanted)) return;
    if (error) toast.error(faultText(error));
    else if (swatch) send(changed({ recipe: swatch.body, chosen: 'cloth' }));
    setSearch({}, { replace: true });
  }, [wanted, open, recipeId, swatch, error, send, setSearch]);
}
