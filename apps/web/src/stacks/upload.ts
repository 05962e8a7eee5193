import { api } from '../store/api';
import type { Recipe } from '#recipe/schema';
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
  const { again, mended } = await sendBytes(address, file, { onShare, signal });
  return { again: again === true, mended: mended === true };
}

/**
 * Sends a file as it is; progress needs the older request object, since fetch tells none on the way up.
 * @throws Error with the sentence of a refusal
 */
export function sendBytes(
  address: string,
  file: File,
  { onShare, signal }: { onShare: (share: number) => void; signal: AbortSignal },
): Promise<Record<string, unknown>> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open('PUT', address);
    request.setRequestHeader('Content-Type', 'application/octet-stream');
    request.responseType = 'json';
    request.upload.onprogress = (event) => onShare(event.lengthComputable ? event.loaded / event.total : 0);
    request.onload = () => {
      const answer = request.response as (Record<string, unknown> & { error?: { message: string } }) | null;
      if (request.status < 300) resolve(answer ?? {});
      else reject(new Error(answer?.error?.message ?? 'The file could not be imported; try again.'));
    };
    request.onerror = () =>
      reject(new Error('Upload interrupted. Check that Owl Loom is running, then drop the file again.'));
    request.onabort = () => reject(new Error('Stopped.'));
    signal.addEventListener('abort', () => request.abort());
    request.send(file);
  });
}

/** Asks for the target's stacks again. */
export const refreshStacks = (): void => {
  store.dispatch(api.util.invalidateTags(['Stack', 'Target']));
};
