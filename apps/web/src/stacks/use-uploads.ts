import { useCallback, useRef, useState } from 'react';
import { embeddedRecipeOf, validateFile } from './check';
import { refreshStacks, sendFile, type Upload } from './upload';

/** Files on their way to a target, sent one after another; those that were refused stay in the list until they are taken off it. */
export interface Uploads {
  readonly list: readonly Upload[];
  /** @param asStacks whether files that carry a recipe are wanted for their pixels */
  add(files: readonly File[], asStacks?: boolean): void;
  stop(key: string): void;
  dismiss(key: string): void;
}

/** The uploads of a screen: they belong to it and not to the place where files are dropped, which may change while they run. */
export function useUploads(target: string): Uploads {
  const [list, setList] = useState<readonly Upload[]>([]);
  const stops = useRef(new Map<string, AbortController>());
  const line = useRef(Promise.resolve());
  const change = useCallback(
    (key: string, next: Partial<Upload>) =>
      setList((all) => all.map((one) => (one.key === key ? { ...one, ...next } : one))),
    [],
  );

  const add = useCallback(
    (files: readonly File[], asStacks = false) => {
      const added = files.map((file, i) => ({ key: `${Date.now()} ${i} ${file.name}`, file }));
      setList((all) => [
        ...all.filter(({ state }) => state === 'waiting' || state === 'sending' || state === 'woven'),
        ...added.map(({ key, file }): Upload => ({ key, name: file.name, share: 0, state: 'waiting' })),
      ]);
      for (const { key, file } of added) {
        const stop = new AbortController();
        stops.current.set(key, stop);
        line.current = line.current.then(async () => {
          if (stop.signal.aborted) {
            change(key, { state: 'failed', message: 'Stopped.' });
            return;
          }
          try {
            const recipe = asStacks ? undefined : await embeddedRecipeOf(file);
            if (recipe) {
              change(key, { state: 'woven', woven: { recipe, file } });
              return;
            }
            const refused = await validateFile(file);
            if (refused) {
              change(key, { state: 'failed', message: refused });
              return;
            }
            change(key, { state: 'sending' });
            const { again, mended } = await sendFile(target, file, (share) => change(key, { share }), stop.signal);
            change(key, {
              state: again ? 'again' : 'sent',
              share: 1,
              message: mended ? 'was repaired' : again ? 'is already imported' : undefined,
            });
            refreshStacks();
          } catch (error) {
            change(key, { state: 'failed', message: error instanceof Error ? error.message : String(error) });
          }
        });
      }
    },
    [target, change],
  );

  const stop = useCallback((key: string) => stops.current.get(key)?.abort(), []);
  const dismiss = useCallback((key: string) => setList((all) => all.filter((one) => one.key !== key)), []);
  return { list, add, stop, dismiss };
}
