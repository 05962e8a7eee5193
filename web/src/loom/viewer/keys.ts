import { type RefObject, useEffect } from 'react';
import { nextCompare } from '../../stage/compare';
import type { StageActions } from '../../stage/Stage';
import { looked } from '../../store/view';
import { store } from '../../store/store';

/** True while a person is typing, when single keys are letters and not commands. */
export const isTyping = (event: KeyboardEvent): boolean =>
  (event.target instanceof HTMLElement && event.target.isContentEditable) ||
  event.target instanceof HTMLInputElement ||
  event.target instanceof HTMLTextAreaElement ||
  event.target instanceof HTMLSelectElement;

/** Keys that change how the picture is looked at. Listed for people in `shortcuts.ts`. */
export function useViewerKeys(stage: RefObject<StageActions | null>): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (isTyping(event) || event.ctrlKey || event.metaKey || event.altKey) return;
      const { view } = store.getState();
      const table: Record<string, () => void> = {
        '0': () => stage.current?.showAll(),
        '1': () => stage.current?.full(),
        '+': () => stage.current?.zoomBy(1.5),
        '=': () => stage.current?.zoomBy(1.5),
        '-': () => stage.current?.zoomBy(1 / 1.5),
        v: () => store.dispatch(looked({ mode: view.mode === 'bright' ? 'true' : 'bright' })),
        k: () => store.dispatch(looked({ clipping: !view.clipping })),
        o: () => store.dispatch(looked({ layerAlone: !view.layerAlone })),
        t: () => store.dispatch(looked({ taken: !view.taken })),
        b: () => store.dispatch(looked({ compare: nextCompare(view.compare) })),
        s: () => store.dispatch(looked({ stars: !view.stars })),
        escape: () => store.dispatch(looked({ region: null, tool: null })),
        l: () => store.dispatch(looked({ loupe: !view.loupe })),
      };
      const action = table[event.key.toLowerCase()];
      if (!action) return;
      event.preventDefault();
      action();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [stage]);
}
