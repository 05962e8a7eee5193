import { useEffect } from 'react';
import { tinykeys } from 'tinykeys';
import { nextCompare } from '../image-view/compare';
import type { StageActions } from '../image-view/ImageView';
import { redone, undone } from '../store/draft';
import { stepLocation, valueAt } from '@owl-loom/recipe/paths';
import { store } from '../store/store';
import { viewChanged } from '../store/view';
import { Dialog } from '../ui/Dialog';
import { removeStep, setValue } from '../document/edit';
import { nudge } from '../document/nudge';
import { enterGroup, leaveGroup, moveSelection, selectMask, selectMaskUser } from './draft/keyboard-navigation';
import { toggleAttributionTool } from './viewer/attribution-tool';
import { nextWatch, watchable } from './viewer/watched';
import { paintedMask, paintOf, putPaint, resized } from './viewer/painting';

/** What keys work on besides the recipe. */
interface Keyboard {
  readonly stage: () => StageActions | null;
  readonly showList: () => void;
  readonly keepSwatch: () => void;
}

/** One key of the Loom: as people read it, as the browser tells it, and its deed; what is no key is only read. */
interface Key {
  readonly keys: string;
  readonly does: string;
  readonly deeds?: Readonly<Record<string, (on: Keyboard) => void>>;
  /** Whether a slider or an open menu has a use of its own for it. */
  readonly yields?: boolean;
}

const view = () => store.getState().view;
const look = (change: Parameters<typeof viewChanged>[0]): void => void store.dispatch(viewChanged(change));

/** Does something with the chosen step, where a step is chosen. */
const withStep = (deed: (path: string) => void) => (): void => {
  const { selectedPath: chosen, recipe } = store.getState().draft;
  if (recipe && stepLocation(chosen)) deed(chosen);
};

const toggle = withStep((path) => {
  const { recipe } = store.getState().draft;
  if (recipe) setValue(`${path}.off`, valueAt(recipe, `${path}.off`) ? undefined : true);
});
/** Takes away the stroke or shape that was taken up, else the chosen step. */
function remove(): void {
  const { selectedPath: chosen, recipe } = store.getState().draft;
  const { selectedShape: piece } = view();
  const mask = recipe && paintedMask(recipe, chosen);
  if (recipe && mask && piece !== null) putPaint(mask, paintOf(recipe, mask).toSpliced(piece, 1));
  else withStep(removeStep)();
}
function watchNext(): void {
  const { selectedPath: chosen, recipe } = store.getState().draft;
  if (recipe) look({ watch: nextWatch(view().watch, watchable(recipe, chosen)) });
}
const undo = (): void => void store.dispatch(undone());
const redo = (): void => void store.dispatch(redone());

const MASK_LOOKS = ['alone', 'veil', 'hatch', 'not'] as const;

/** Every key of the Loom, in the order of the list that `?` shows. */
export const KEYS: readonly Key[] = [
  {
    keys: 'V',
    does: 'Display stretch on/off',
    deeds: { v: () => look({ mode: view().mode === 'bright' ? 'true' : 'bright' }) },
  },
  {
    keys: 'K',
    does: 'Mark clipped pixels',
    deeds: { k: () => look({ clipping: !view().clipping }) },
  },
  {
    keys: 'O',
    does: 'Selected layer only / with layers below',
    deeds: { o: () => look({ layerAlone: !view().layerAlone }) },
  },
  {
    keys: 'W',
    does: 'Preview: this step, the cloth up to this layer, or the whole cloth',
    deeds: { w: watchNext },
  },
  { keys: 'T', does: 'What the selected step removed', deeds: { t: () => look({ showRemoved: !view().showRemoved }) } },
  {
    keys: 'B',
    does: 'Compare: wipe, side by side, blink, difference, drift',
    deeds: { b: () => look({ compare: nextCompare(view().compare) }) },
  },
  {
    keys: 'M',
    does: 'Mask: only, veil, hatch, off',
    deeds: { m: () => look({ maskAs: MASK_LOOKS[(MASK_LOOKS.indexOf(view().maskAs) + 1) % MASK_LOOKS.length] }) },
  },
  { keys: 'Hold N', does: 'Without the mask of the selection' },
  { keys: 'S', does: 'Mark detected stars', deeds: { s: () => look({ stars: !view().stars }) } },
  {
    keys: 'Q',
    does: 'Colour origin: click the picture',
    deeds: { q: toggleAttributionTool },
  },
  { keys: 'Shift+drag', does: 'Draw a region with statistics' },
  {
    keys: 'Esc',
    does: 'Clear region, leave tool',
    deeds: { Escape: () => look({ region: null, attributionRect: null, tool: null, selectedShape: null }) },
  },
  {
    keys: '[  ]',
    does: 'Smaller / larger brush (or Alt+wheel)',
    deeds: {
      '(\\[)': () => look({ brush: resized(view().brush, 1 / 1.15) }),
      '(\\])': () => look({ brush: resized(view().brush, 1.15) }),
    },
  },
  { keys: 'L', does: 'Loupe at the pointer', deeds: { l: () => look({ loupe: !view().loupe }) } },
  { keys: '0', does: 'Fit the whole picture', deeds: { '0': ({ stage }) => stage()?.showAll() } },
  { keys: '1', does: '1:1 (100 %)', deeds: { '1': ({ stage }) => stage()?.full() } },
  {
    keys: '+  −',
    does: 'Zoom in / out',
    deeds: {
      '(\\+|=)': ({ stage }) => stage()?.zoomBy(1.5),
      'Shift+(\\+)': ({ stage }) => stage()?.zoomBy(1.5),
      '(-)': ({ stage }) => stage()?.zoomBy(1 / 1.5),
    },
  },
  {
    keys: '←  →',
    does: 'Previous / next step',
    deeds: { ArrowLeft: () => moveSelection(-1, 0), ArrowRight: () => moveSelection(1, 0) },
    yields: true,
  },
  {
    keys: '↑  ↓',
    does: 'Strand or layer above / below',
    deeds: { ArrowUp: () => moveSelection(0, -1), ArrowDown: () => moveSelection(0, 1) },
    yields: true,
  },
  {
    keys: 'Shift+↓ ↑',
    does: 'Open / leave the selected small cloth',
    deeds: { 'Shift+ArrowDown': enterGroup, 'Shift+ArrowUp': leaveGroup },
    yields: true,
  },
  {
    keys: 'Shift+→ ←',
    does: 'To the mask of the selection / back',
    deeds: { 'Shift+ArrowRight': selectMask, 'Shift+ArrowLeft': selectMaskUser },
    yields: true,
  },
  {
    keys: 'F',
    does: 'Full / compact draft',
    deeds: { f: () => look({ tallDraft: !view().tallDraft }) },
  },
  {
    keys: 'Alt+← → ↑ ↓',
    does: 'Shift the selected layer or strand by 1 px, with Shift by 10 px',
    deeds: Object.fromEntries(
      (
        [
          ['ArrowLeft', -1, 0],
          ['ArrowRight', 1, 0],
          ['ArrowUp', 0, 1],
          ['ArrowDown', 0, -1],
        ] as const
      ).flatMap(([key, dx, dy]) => [
        [`Alt+${key}`, () => nudge(dx, dy)],
        [`Alt+Shift+${key}`, () => nudge(10 * dx, 10 * dy)],
      ]),
    ),
    yields: true,
  },
  { keys: 'X', does: 'Turn the selected step off / on', deeds: { x: toggle }, yields: true },
  {
    keys: 'Delete',
    does: 'Remove the selected step, stroke or shape',
    deeds: { Delete: remove, Backspace: remove },
    yields: true,
  },
  { keys: 'C', does: 'Save as swatch', deeds: { c: ({ keepSwatch }) => keepSwatch() } },
  { keys: 'Ctrl+Z', does: 'Undo', deeds: { '$mod+z': undo } },
  { keys: 'Ctrl+Shift+Z', does: 'Redo', deeds: { '$mod+Shift+z': redo, '$mod+y': redo } },
  {
    keys: '?',
    does: 'This list',
    deeds: { '(\\?)': ({ showList }) => showList(), 'Shift+(\\?)': ({ showList }) => showList() },
    yields: true,
  },
];

/** True while a person is typing, when single keys are letters and not commands. */
const isTyping = ({ target }: KeyboardEvent): boolean =>
  (target instanceof HTMLElement && target.isContentEditable) ||
  target instanceof HTMLInputElement ||
  target instanceof HTMLTextAreaElement ||
  target instanceof HTMLSelectElement;

const inUse = ({ target }: KeyboardEvent): boolean =>
  target instanceof HTMLElement &&
  target.closest('[role="slider"],[role="menu"],[role="listbox"],[role="dialog"]') !== null;

/** Listens to the keys of the Loom. */
export function useKeys(on: Keyboard): void {
  useEffect(() => {
    const bindings = KEYS.flatMap(({ deeds = {}, yields = false }) =>
      Object.entries(deeds).map(([press, deed]) => [
        press,
        (event: KeyboardEvent): void => {
          if (isTyping(event) || (yields && inUse(event))) return;
          event.preventDefault();
          deed(on);
        },
      ]),
    );
    return tinykeys(window, Object.fromEntries(bindings));
  }, [on]);
  useEffect(() => {
    const down = (event: KeyboardEvent): void => {
      if (event.key.toLowerCase() !== 'n' || event.ctrlKey || event.metaKey || event.repeat || isTyping(event)) return;
      look({ unmasked: true });
    };
    const up = (): void => {
      if (view().unmasked) look({ unmasked: false });
    };
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    // A window that is left never hears of the key again.
    window.addEventListener('blur', up);
    return () => {
      up();
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
      window.removeEventListener('blur', up);
    };
  }, []);
}

export function ShortcutList({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  return (
    <Dialog open={open} onOpenChange={onOpenChange} title="Keys">
      <dl>
        {KEYS.map(({ keys, does }) => (
          <div key={keys} className="flex items-baseline gap-4 border-b border-edge py-1.5 last:border-0">
            <dt className="figures w-28 shrink-0 text-lamp">{keys}</dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
    </Dialog>
  );
}
