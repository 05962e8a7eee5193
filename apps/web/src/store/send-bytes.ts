import type { Reply } from '@owl-loom/api/endpoints';
import type { ErrorBody } from '@owl-loom/api/wire';

/** Requests whose body is a file as it is. */
type BytesEndpoint = 'PUT /targets/:id/uploads' | 'PUT /archives';

/**
 * Sends a file as it is; progress needs the older request object, since fetch reports none on the way up.
 * @param address of an endpoint {@link K}, with its query
 * @throws Error with the sentence of a refusal
 */
export function sendBytes<K extends BytesEndpoint>(
  address: string,
  file: File,
  { onShare, signal }: { onShare: (share: number) => void; signal: AbortSignal },
): Promise<Reply<K>> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open('PUT', address);
    request.setRequestHeader('Content-Type', 'application/octet-stream');
    request.responseType = 'json';
    request.upload.onprogress = (event) => onShare(event.lengthComputable ? event.loaded / event.total : 0);
    request.onload = () => {
      if (request.status < 300) resolve(request.response as Reply<K>);
      else {
        const answer = request.response as ErrorBody | null;
        reject(new Error(answer?.error?.message ?? 'The file could not be imported; try again.'));
      }
    };
    request.onerror = () =>
      reject(new Error('Upload interrupted. Check that Owl Loom is running, then drop the file again.'));
    request.onabort = () => reject(new Error('Stopped.'));
    signal.addEventListener('abort', () => request.abort());
    request.send(file);
  });
}
