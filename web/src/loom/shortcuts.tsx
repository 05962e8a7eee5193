import { clothLayers, type Owner, ownerAt, strandOwners } from '../../../core/recipe/walk';
import { useEffect } from 'react';
import { chose, redone, undone } from '../store/draft';
import { stepPlace, valueAt } from '../store/paths';
import { store } from '../store/store';
import { Dialog } from '../ui/controls';
import { removeStep, setValue } from './edit';
import { isTyping } from './viewer/keys';

/** Every key of the Loom, as it is listed for people. */
export const SHORTCUTS: readonly { keys: string; does: string }[] = [
  { keys: 'V', does: 'brightened or true' },
  { keys: 'K', does: 'mark pixels cut off at black or white' },
  { keys: 'O', does: 'the chosen layer alone, or with all below it' },
  { keys: 'T', does: 'what the chosen step took out' },
  { keys: 'B', does: 'before and after: wipe, side by side, blink' },
  { keys: 'S', does: 'mark the stars that were found' },
  { keys: 'Shift drag', does: 'a rectangle on the picture, with its statistics' },
  { keys: 'Esc', does: 'let the rectangle go' },
  { keys: 'L', does: 'loupe at the pointer' },
  { keys: '0', does: 'the whole picture' },
  { keys: '1', does: 'one pixel on one pixel' },
  { keys: '+  −', does: 'closer, further away' },
  { keys: '←  →', does: 'the bead before, the bead after' },
  { keys: '↑  ↓', does: 'the thread or layer above, below' },
  { keys: 'X', does: 'switch the chosen step off or on' },
  { keys: 'Delete', does: 'remove the chosen step' },
  { keys: 'Ctrl Z', does: 'undo' },
  { keys: 'Ctrl Shift Z', does: 'redo' },
  { keys: '?', does: 'this list' },
];

/** Chosen places in the order of the drawing: strands with their steps, layers, cloth with its steps. */
function places(): string[][] {
  const { recipe } = store.getState().draft;
  if (!recipe) return [];
  const withSteps = ({ path, stepsPath, steps }: Owner) => [path, ...steps.map((_, k) => `${stepsPath}[${k}]`)];
  const cloth = ownerAt(recipe, 'cloth');
  return [
    ...strandOwners(recipe).map(withSteps),
    ...clothLayers(recipe).map(withSteps).reverse(),
    cloth ? withSteps(cloth) : ['cloth'],
  ];
}

function move(across: number, down: number): void {
  const rows = places();
  const { chosen } = store.getState().draft;
  const row = rows.findIndex((list) => list.includes(chosen));
  if (row < 0) return;
  const target = rows[Math.min(rows.length - 1, Math.max(0, row + down))];
  const column = rows[row].indexOf(chosen) + across;
  store.dispatch(chose(target[Math.min(target.length - 1, Math.max(0, column))]));
}

/** Keys that work on the draft. */
export function useDraftKeys(showList: () => void): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (isTyping(event)) return;
      const command = event.ctrlKey || event.metaKey;
      const { chosen, recipe } = store.getState().draft;
      if (command && event.key.toLowerCase() === 'z') {
        event.preventDefault();
        store.dispatch(event.shiftKey ? redone() : undone());
        return;
      }
      if (command && event.key.toLowerCase() === 'y') {
        event.preventDefault();
        store.dispatch(redone());
        return;
      }
      if (
        command ||
        event.altKey ||
        (event.target instanceof HTMLElement &&
          event.target.closest('[role="slider"],[role="menu"],[role="listbox"],[role="dialog"]'))
      )
        return;
      const actions: Record<string, () => void> = {
        ArrowLeft: () => move(-1, 0),
        ArrowRight: () => move(1, 0),
        ArrowUp: () => move(0, -1),
        ArrowDown: () => move(0, 1),
        '?': showList,
      };
      if (recipe && stepPlace(chosen)) {
        const toggle = (): void => {
          const off = valueAt(recipe, `${chosen}.off`);
          setValue(`${chosen}.off`, off ? undefined : true);
        };
        Object.assign(actions, {
          x: toggle,
          X: toggle,
          Delete: () => removeStep(chosen),
          Backspace: () => removeStep(chosen),
        });
      }
      const action = actions[event.key];
      if (!action) return;
      event.preventDefault();
      action();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [showList]);
}

export function ShortcutList({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  return (
    <Dialog open={open} onOpenChange={onOpenChange} title="Keys">
      <dl>
        {SHORTCUTS.map(({ keys, does }) => (
          <div key={keys} className="flex items-baseline gap-4 border-b border-edge py-1.5 last:border-0">
            <dt className="figures w-28 shrink-0 text-lamp">{keys}</dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
    </Dialog>
  );
}
