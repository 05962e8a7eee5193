import { toast } from 'sonner';
import { api } from './api';
import { houseApi } from './maintenance-api';
import type { TrashedRow } from './rows';
import { store } from './store';
import { showError } from './show-error';

const REMOVE = {
  target: api.endpoints.removeTarget,
  stack: api.endpoints.removeStack,
  recipe: api.endpoints.removeRecipe,
  swatch: api.endpoints.dropSwatch,
  export: api.endpoints.removeExport,
} as const;

/** How long the way back stays on the screen, ms; the trash holds it far longer. */
const LONG_ENOUGH = 10_000;

/** Puts something into the trash, and offers the way back in the message that says so. */
export async function putAway(kind: TrashedRow['kind'], id: string, name: string): Promise<void> {
  const result = await store.dispatch(REMOVE[kind].initiate(id));
  showError(result);
  if (result.error) return;
  toast(`${name} lies in the trash.`, {
    duration: LONG_ENOUGH,
    action: { label: 'Undo', onClick: () => void bringBack({ kind, id, name }) },
  });
}

/** Brings something back from the trash; says so where it has another name now. */
export async function bringBack({ kind, id, name }: Pick<TrashedRow, 'kind' | 'id' | 'name'>): Promise<void> {
  const result = await store.dispatch(houseApi.endpoints.bringBack.initiate({ kind, id }));
  showError(result);
  if (result.data?.name) toast(`Another stack is called ${name} now; this one is back as ${result.data.name}.`);
}
