import { api } from '../store/api';
import type { Recipe } from '@owl-loom/recipe/schema';
import { sendBytes } from '../store/send-bytes';
import { store } from '../store/store';

/** A file on its way to the server. */
export interface Upload {
  readonly key: string;
  readonly name: string;
  readonly share: number;
  readonly state: 'waiting' | 'sending' | 'sent' | 'again' | 'failed' | 'woven';
  readonly message?: string;
  /** What a file that was woven here carries: its recipe, and the file itself, which may be wanted for its pixels all the same. */
  readonly woven?: { readonly recipe: Recipe; readonly file: File };
}

/** Sends one file as a stack of a target, or in place of one. */
export async function sendFile(
  target: string,
  file: File,
  onShare: (share: number) => void,
  signal: AbortSignal,
  replace?: string,
): Promise<{ again: boolean; mended: boolean }> {
  const address = `/api/targets/${target}/uploads?name=${encodeURIComponent(file.name)}${replace === undefined ? '' : `&replace=${replace}`}`;
  const taken = await sendBytes<'PUT /targets/:id/uploads'>(address, file, { onShare, signal });
  return { again: taken.again, mended: taken.again && taken.mended === true };
}

/** Asks for the target's stacks again. */
export const refreshStacks = (): void => {
  store.dispatch(api.util.invalidateTags(['Stack', 'Target']));
};
