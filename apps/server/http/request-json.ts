/** A request with a JSON body. */
export const json = (method: string, body: unknown): RequestInit => ({
  method,
  headers: { 'Content-Type': 'application/json' },
  body: JSON.stringify(body),
});

/**
 * Asks a running Owl Loom as the page does.
 * @throws Error with what it answered, where it refuses
 */
export async function requestJson<T>(address: string, path: string, init: RequestInit = {}): Promise<T> {
  const response = await fetch(`${address}/api${path}`, init);
  if (!response.ok) throw new Error(await response.text());
  return (response.status === 204 ? undefined : await response.json()) as T;
}
