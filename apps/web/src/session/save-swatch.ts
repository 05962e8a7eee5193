import { toast } from 'sonner';
import { api } from '../store/api';
import { store } from '../store/store';
import { showError } from '../store/show-error';

/** Keeps the open recipe's state, as it is now, as a swatch of its target. */
export async function saveSwatch(target: string): Promise<void> {
  const { id, recipe } = store.getState().draft;
  if (!id || !recipe) return;
  const result = await store.dispatch(api.endpoints.saveSwatch.initiate({ target, recipeId: id, body: recipe }));
  showError(result);
  const { data } = result;
  if (!data) return;
  const takeBack = async (): Promise<void> =>
    showError(await store.dispatch(api.endpoints.removeSwatch.initiate(data.id)));
  toast.success(`Saved as swatch ${data.name}.`, {
    action: { label: 'Undo', onClick: () => void takeBack() },
  });
}
