import { toast } from 'sonner';
import { api } from './api';
import { maintenanceApi } from './maintenance-api';
import type { TrashedRow } from '@owl-loom/api/maintenance';
import { store } from './store';
import { showError } from './show-error';

const REMOVE = {
  target: api.endpoints.removeTarget,
  stack: api.endpoints.removeStack,
  recipe: api.endpoints.removeRecipe,
  swatch: api.endpoints.removeSwatch,
  export: api.endpoints.removeExport,
} as const;

/** How long the way back stays on the screen, ms; the trash holds it far longer. */
const LONG_ENOUGH = 10_000;

/** Puts something into the trash, and offers the way back in the message that says so. */
export async function moveToTrash(kind: TrashedRow['kind'], id: string, name: string): Promise<void> {
  const result = await store.dispatch(REMOVE[kind].initiate(id));
  showError(result);
  if (result.error) return;
  toast(`${name} moved to trash.`, {
    duration: LONG_ENOUGH,
    action: { label: 'Undo', onClick: () => void restoreFromTrash({ kind, id, name }) },
  });
}

/** Brings something back from the trash; says so where it has another name now. */
export async function restoreFromTrash({ kind, id, name }: Pick<TrashedRow, 'kind' | 'id' | 'name'>): Promise<void> {
  const result = await store.dispatch(maintenanceApi.endpoints.restore.initiate({ kind, id }));
  showError(result);
  if (result.data?.name) toast(`Another stack is called ${name} now; this one was restored as ${result.data.name}.`);
}
