import { useNavigate } from 'react-router';
import type { StackAssessment } from '@owl-loom/recipe/palettes/prepare';
import type { Recipe } from '@owl-loom/recipe/schema';
import { api, useAddRecipeMutation } from './api';
import { store } from './store';
import { showError } from './show-error';

/** What lies askew on a target or has an uneven sky, which the server knows; the first time it has to look. */
export async function fetchStackAssessment(target: string): Promise<{ ground: StackAssessment; error?: unknown }> {
  const asked = store.dispatch(api.endpoints.palettes.initiate(target));
  try {
    const { data, error } = await asked;
    return { ground: data?.ground ?? { askew: [], uneven: [] }, error };
  } finally {
    asked.unsubscribe();
  }
}

/** Adds recipes to a target, each to be opened in the Loom; tells where one cannot be added. */
export function useNewRecipe(target: string): { weave: (recipe: Recipe) => Promise<void>; adding: boolean } {
  const [add, { isLoading: adding }] = useAddRecipeMutation();
  const navigate = useNavigate();
  const weave = async (body: Recipe): Promise<void> => {
    const result = await add({ target, body });
    showError(result);
    if (result.data) void navigate(`/targets/${target}/loom/${result.data.id}`);
  };
  return { weave, adding };
}
