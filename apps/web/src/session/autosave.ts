import { useEffect } from 'react';
import { v4 as uuid } from 'uuid';
import type { Recipe } from '@owl-loom/recipe/schema';
import { type ApiFault, api, faultText } from '../store/api';
import { saveFailed, saved, saving } from '../store/draft';
import { store, useAppSelector } from '../store/store';
import { useKeyedEffect } from '../ui/use-keyed-effect';

/** Changes are saved when they have rested this long. */
const PAUSE = 600;
/** How often a save is tried again while the server or its database is away. */
const AGAIN = 2500;

let inFlight = false;

/** A save that has been sent and whose answer is not known. */
interface Attempt {
  readonly id: string;
  readonly parent: number;
  readonly recipe: Recipe;
  /** Names this very save: sent again because its answer was lost, it counts once. */
  readonly key: string;
}
let attempt: Attempt | undefined;

async function saveNow(): Promise<void> {
  const { id, recipe, revision, save } = store.getState().draft;
  if (!id || !recipe || inFlight || save === 'kept' || save === 'conflict' || save === 'refused') return;
  inFlight = true;
  store.dispatch(saving());
  // It may have been kept although no answer came: a later state must not be taken for a stranger's, so that one goes first.
  if (attempt?.id !== id || attempt.parent !== revision) attempt = { id, parent: revision, recipe, key: uuid() };
  const { parent, recipe: body, key } = attempt;
  try {
    const { data, error } = await store.dispatch(api.endpoints.saveRecipe.initiate({ id, parent, body, key }));
    const failed = error && failure(error as ApiFault);
    if (failed !== 'away') attempt = undefined;
    // Another recipe may have been opened meanwhile.
    if (store.getState().draft.id !== id) return;
    if (data) store.dispatch(saved({ recipe: body, revision: data.revision }));
    else store.dispatch(saveFailed({ save: failed ?? 'away', trouble: faultText(error) }));
  } finally {
    inFlight = false;
  }
}

/** What a failed save means: what the server refuses as it is will be refused again; all else is worth another try. */
function failure({ status, data }: ApiFault): 'conflict' | 'refused' | 'away' {
  if (data?.error?.code === 'conflict') return 'conflict';
  return typeof status === 'number' && status >= 400 && status < 500 ? 'refused' : 'away';
}

/** Saves every change by itself; while the server is away the edit is kept on the page and tried again until it is in. */
export function useAutosave(): void {
  const recipe = useAppSelector((state) => state.draft.recipe);
  const save = useAppSelector((state) => state.draft.save);
  // Another recipe begins the pause anew.
  useKeyedEffect(() => {
    if (save === 'changed') {
      const timer = setTimeout(() => void saveNow(), PAUSE);
      return () => clearTimeout(timer);
    }
    if (save === 'away') {
      const timer = setInterval(() => void saveNow(), AGAIN);
      return () => clearInterval(timer);
    }
    return undefined;
  }, [recipe, save]);

  useEffect(() => {
    const warn = (event: BeforeUnloadEvent): void => {
      if (store.getState().draft.save !== 'kept') event.preventDefault();
    };
    window.addEventListener('beforeunload', warn);
    return () => {
      window.removeEventListener('beforeunload', warn);
      void saveNow();
    };
  }, []);
}
