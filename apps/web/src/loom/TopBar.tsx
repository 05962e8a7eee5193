import { strandOwners } from '@owl-loom/recipe/walk';
import { CircleHelp, Redo2, Scissors, Undo2 } from 'lucide-react';
import { type ComponentProps, useState } from 'react';
import type { TargetCard } from '@owl-loom/api/targets';
import { redone, undone } from '../store/draft';
import { useAppSelector, useAppDispatch } from '../store/store';
import { nextCompare } from '../image-view/compare';
import { viewChanged } from '../store/view';
import { completeStep } from '../onboarding/onboarding';
import { Button, IconButton } from '../ui/controls';
import { Menu } from '../ui/Menu';
import { Pick } from '../ui/Select';
import { Frame } from '../frame/AppFrame';
import { TypedInPlace } from '../ui/InlineTextField';
import { setValue } from '../document/edit';
import { RecipeMenu } from './RecipeMenu';
import { SaveLine } from './SaveLine';
import { useSession } from '../session/session';
import { saveSwatch } from '../session/save-swatch';
import { toggleAttributionTool } from './viewer/attribution-tool';
import { WriteFile } from './write/WriteFile';

/** One way of looking, as a switch that is named and lit. */
function Look({
  on,
  label,
  hotkey,
  onClick,
  idle,
}: {
  on: boolean;
  label: string;
  hotkey: string;
  onClick: () => void;
  /** Why it does nothing to what is shown. */
  idle?: string;
}) {
  return (
    <button
      type="button"
      aria-pressed={on}
      disabled={idle !== undefined}
      title={idle ?? `${label} (${hotkey})`}
      onClick={onClick}
      className={`h-7 rounded-md px-1 text-[12.5px] min-[1400px]:px-1.5 whitespace-nowrap transition-colors disabled:text-hush ${on && idle === undefined ? 'bg-shelf text-lamp' : 'text-soft hover:bg-shelf'}`}
    >
      {label}
    </button>
  );
}

/** Whose brightness a linear strand is shown under. */
function BrightAs() {
  const recipe = useAppSelector((state) => state.draft.recipe);
  const anchor = useAppSelector((state) => state.view.anchor);
  const send = useAppDispatch();
  return (
    <div className="pl-2 whitespace-nowrap [&_button]:min-w-20 [&_span.text-soft]:sr-only">
      <Pick
        label="Display stretch"
        value={anchor ?? 'own'}
        options={[
          { value: 'own', label: 'Own' },
          ...(recipe ? strandOwners(recipe) : []).map(({ id, path }) => ({ value: path, label: `Same as ${id}` })),
        ]}
        onChange={(value) => send(viewChanged({ anchor: value === 'own' ? null : value }))}
      />
    </div>
  );
}

export function TopBar({ target, onHelp }: { target: TargetCard; onHelp: () => void }) {
  const open = useAppSelector((state) => state.draft.recipe !== null);
  const id = useAppSelector((state) => state.draft.id);
  const name = useAppSelector((state) => state.draft.recipe?.name ?? '');
  const chosen = useAppSelector((state) => state.draft.selectedPath);
  const [canUndo, canRedo] = [
    useAppSelector((state) => state.draft.past.length > 0),
    useAppSelector((state) => state.draft.future.length > 0),
  ];
  const view = useAppSelector((state) => state.view);
  const send = useAppDispatch();
  const [writing, setWriting] = useState(false);
  const { scene } = useSession();
  const image = scene?.paths[`${chosen}@cloth`] ?? scene?.paths[chosen];
  const stretched = image?.domain === 'stretched';
  if (!open) return null;
  // Whatever else is shown has its own brightness, or is stretched.
  const onStrand = chosen.startsWith('strands') && image !== undefined && !stretched;
  const looks: ComponentProps<typeof Look>[] = [
    {
      label: 'Display stretch',
      hotkey: 'V',
      on: view.mode === 'bright',
      idle: stretched ? 'Already stretched: no display stretch is applied' : undefined,
      onClick: () => send(viewChanged({ mode: view.mode === 'bright' ? 'true' : 'bright' })),
    },
    {
      label: 'Clipping',
      hotkey: 'K',
      on: view.clipping,
      onClick: () => send(viewChanged({ clipping: !view.clipping })),
    },
    {
      label: 'Layer only',
      hotkey: 'O',
      on: view.layerAlone,
      onClick: () => send(viewChanged({ layerAlone: !view.layerAlone })),
    },
    {
      label: 'Removed',
      hotkey: 'T',
      on: view.showRemoved,
      onClick: () => send(viewChanged({ showRemoved: !view.showRemoved })),
    },
    { label: 'Stars', hotkey: 'S', on: view.stars, onClick: () => send(viewChanged({ stars: !view.stars })) },
    {
      label: 'Compare',
      hotkey: 'B',
      on: view.compare !== 'off',
      onClick: () => send(viewChanged({ compare: nextCompare(view.compare) })),
    },
    // It speaks of the finished cloth; on a strand its place is needed.
    ...(onStrand
      ? []
      : [{ label: 'Colour origin', hotkey: 'Q', on: view.tool === 'ask', onClick: toggleAttributionTool }]),
  ];
  return (
    <Frame
      target={target}
      here="loom"
      title={
        <TypedInPlace
          key={id}
          label="Recipe name"
          value={name}
          most={200}
          className="w-32 min-w-16 shrink text-text"
          onKeep={(to) => setValue('name', to || undefined)}
        />
      }
      menu={<RecipeMenu target={target} />}
      middle={
        <>
          <div className="hidden items-center min-[1200px]:flex min-[1400px]:gap-0.5">
            {looks.map((one) => (
              <Look key={one.label} {...one} />
            ))}
            {onStrand && <BrightAs />}
          </div>
          <div className="min-[1200px]:hidden">
            <Menu
              items={looks.map(({ label, hotkey, on, idle, onClick }) => ({
                label: on ? `Turn off ${label}` : label,
                says: idle ?? hotkey,
                onSelect: onClick,
              }))}
            >
              <Button small look={looks.some(({ on, label }) => on && label !== 'Display stretch') ? 'lamp' : 'plain'}>
                View
              </Button>
            </Menu>
          </div>
        </>
      }
      right={
        <>
          <SaveLine />
          <span className="flex">
            <IconButton label="Undo (Ctrl+Z)" disabled={!canUndo} onClick={() => send(undone())}>
              <Undo2 size={15} />
            </IconButton>
            <IconButton label="Redo (Ctrl+Shift+Z)" disabled={!canRedo} onClick={() => send(redone())}>
              <Redo2 size={15} />
            </IconButton>
            <IconButton label="Save as swatch (C)" onClick={() => void saveSwatch(target.id)}>
              <Scissors size={15} />
            </IconButton>
            <IconButton label="Keyboard shortcuts (?)" onClick={onHelp}>
              <CircleHelp size={15} />
            </IconButton>
          </span>
          <Button
            look="lamp"
            small
            onClick={() => {
              completeStep('write');
              setWriting(true);
            }}
          >
            Export …
          </Button>
          <WriteFile open={writing} onOpenChange={setWriting} target={target.id} />
        </>
      }
    />
  );
}
