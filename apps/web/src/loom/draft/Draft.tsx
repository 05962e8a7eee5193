import { DndContext, type DragEndEvent, MouseSensor, TouchSensor, useSensor, useSensors } from '@dnd-kit/core';
import { SortableContext, horizontalListSortingStrategy } from '@dnd-kit/sortable';
import { CornerLeftUp, FoldVertical, UnfoldVertical } from 'lucide-react';
import { useRef } from 'react';
import type { Step } from '@owl-loom/recipe/schema';
import { recipeChanged, selectionChanged } from '../../store/draft';
import { stepLocation, stepsAt, withStepMoved } from '@owl-loom/recipe/paths';
import { useAppSelector, useAppDispatch } from '../../store/store';
import { viewChanged } from '../../store/view';
import { completeStep } from '../../onboarding/onboarding';
import { IconButton } from '../../ui/controls';
import { useSession } from '../../session/session';
import { noticesOf, obstacleAt } from '../../session/notices';
import { useStrandColours } from '../../session/strands';
import { useAddStep } from '../../session/use-add-step';
import { moveLayer } from '../../document/edit-layers';
import { ownerName } from '@owl-loom/recipe/names';
import { AddMask } from './AddMask';
import { AddStrand } from './AddStrand';
import { AddStep } from './AddStep';
import { Bead } from './Bead';
import { layerDrop, Layers } from './Layers';
import { type BeadPlace, layoutDraft, type ThreadPlace } from './layout';
import { FoldedRun } from './FoldedRun';
import { useScrollIntoView, useScrollViewport } from './use-window';
import { ThreadRow } from './ThreadRow';
import { Threads } from './Threads';
import { TieUp } from './TieUp';

const isOpen = ({ folded }: ThreadPlace): boolean => !folded;

/** Pixels from the left that the buttons for new strands and masks take. */
const BUTTONS = 206;

/** The whole recipe as one drawing along the foot of the window. */
export function Draft() {
  const recipe = useAppSelector((state) => state.draft.recipe);
  const strandColour = useStrandColours(recipe);
  const chosen = useAppSelector((state) => state.draft.selectedPath);
  const tall = useAppSelector((state) => state.view.tallDraft);
  const { scene } = useSession();
  const add = useAddStep();
  const send = useAppDispatch();
  const sensors = useSensors(
    useSensor(MouseSensor, { activationConstraint: { distance: 6 } }),
    // A finger that moves at once means to scroll; one that rests first takes the thing up.
    useSensor(TouchSensor, { activationConstraint: { delay: 250, tolerance: 8 } }),
  );
  const box = useRef<HTMLElement>(null);
  const window = useScrollViewport(box, recipe !== null);
  useScrollIntoView(box, chosen);
  if (!recipe) return null;
  const layout = layoutDraft(recipe, chosen, window);
  const { inside } = layout;
  const notices = noticesOf(scene);
  const noticeAt = (path: string): string | undefined =>
    notices.find((n) => n.path === path || n.path.startsWith(`${path}.`))?.message;
  // A strand, a layer or the cloth carries a mark of its own where a measurement that it depends on failed, wherever that is.
  const ownerNotice = (path: string, source: string): string | undefined => noticeAt(source) ?? obstacleAt(scene, path);
  const choose = (path: string): void => {
    if (stepLocation(path)) completeStep('beads');
    send(selectionChanged(path));
  };

  const dropped = ({ active, over }: DragEndEvent): void => {
    const place = over ? layerDrop(String(active.id), String(over.id)) : undefined;
    if (place !== undefined) moveLayer(String(active.id), place);
    const from = stepLocation(String(active.id));
    const to = over ? stepLocation(String(over.id)) : undefined;
    if (!from || !to || from.list !== to.list || from.index === to.index) return;
    const index = to.index > from.index ? to.index + 1 : to.index;
    send(recipeChanged({ recipe: withStepMoved(recipe, from, { ...to, index }), chosen: String(over?.id) }));
  };

  const beads = (places: readonly BeadPlace[], list: string, colour: string) => (
    <SortableContext items={places.map((place) => place.path)} strategy={horizontalListSortingStrategy}>
      {places.map((place, i) => {
        const step: Step | undefined = stepsAt(recipe, list)[i];
        return (
          step && (
            <Bead
              key={place.path}
              place={place}
              step={step}
              width={layout.beadWidth}
              colour={colour}
              chosen={chosen === place.path}
              notice={noticeAt(place.path)}
              onChoose={() => choose(place.path)}
            />
          )
        );
      })}
    </SortableContext>
  );

  return (
    <section
      aria-label="Draft"
      ref={box}
      className="relative size-full overflow-auto bg-room"
      data-testid="draft"
      data-needs={layout.needs}
    >
      <DndContext sensors={sensors} onDragEnd={dropped}>
        <div className="relative" style={{ width: layout.width, height: layout.height, minWidth: '100%' }}>
          <Threads recipe={recipe} layout={layout} chosen={chosen} />
          {[
            { x: 14, text: 'Strands' },
            // Where threads are short, the buttons beside `strands` reach as far; the columns have their letters.
            ...(layout.tieX - 66 > BUTTONS ? [{ x: layout.tieX - 66, text: 'Tie-up' }] : []),
            { x: layout.layersX, text: inside ? `Layers in ${ownerName(recipe, inside)}` : 'Layers' },
            { x: layout.clothX, text: inside ? 'Back' : 'Cloth' },
          ].map(({ x, text }) => (
            <span
              key={text}
              className="absolute text-[11px] tracking-wide text-hush"
              style={{ left: x, top: 6 + (x < layout.layersX ? 0 : layout.down) }}
            >
              {text}
            </span>
          ))}
          {layout.runs.map((run) => (
            <FoldedRun key={run.paths.join(' ')} run={run} recipe={recipe} noticeAt={noticeAt} onChoose={choose} />
          ))}
          {layout.rows.filter(isOpen).map((row) => (
            <ThreadRow
              key={row.id}
              row={row}
              colour={strandColour(row.id)}
              image={scene?.paths[row.path]}
              beadWidth={layout.beadWidth}
              chosen={chosen}
              notice={ownerNotice(row.path, `${row.path}.from`)}
              onChoose={() => choose(row.path)}
              onAdd={add(row.stepsPath)}
            >
              {beads(row.beads, row.stepsPath, strandColour(row.id))}
            </ThreadRow>
          ))}
          <span className="sticky left-full z-20 float-right mt-0.5 mr-1.5 bg-room">
            <IconButton
              label={tall ? 'Compact draft (F)' : 'Full draft (F)'}
              active={tall}
              onClick={() => send(viewChanged({ tallDraft: !tall }))}
            >
              {tall ? <FoldVertical size={14} /> : <UnfoldVertical size={14} />}
            </IconButton>
          </span>
          <AddStrand x={62} y={14} />
          <AddMask x={138} y={14} />
          {layout.masks.filter(isOpen).map((row) => (
            <ThreadRow
              key={row.id}
              row={row}
              colour="var(--color-text)"
              small
              image={scene?.paths[row.path]}
              beadWidth={layout.beadWidth}
              chosen={chosen}
              notice={ownerNotice(row.path, `${row.path}.of`)}
              onChoose={() => choose(row.path)}
              onAdd={add(row.stepsPath)}
            >
              {beads(row.beads, row.stepsPath, 'var(--color-soft)')}
            </ThreadRow>
          ))}
          <TieUp layout={layout} />
          <Layers recipe={recipe} layout={layout} chosen={chosen} noticeAt={(path) => ownerNotice(path, path)} />
          {inside ? (
            <button
              type="button"
              onClick={() => choose(inside.path)}
              title="Back to the cloth above (Shift+↑)"
              className="absolute z-10 inline-flex h-7 max-w-44 -translate-y-1/2 items-center gap-1.5 rounded-[7px] border border-soft bg-room px-3 font-semibold hover:bg-shelf"
              style={{ left: layout.clothX - 8, top: layout.clothY }}
            >
              <CornerLeftUp size={13} className="shrink-0" />{' '}
              <span className="truncate">{ownerName(recipe, inside)}</span>
            </button>
          ) : (
            <button
              type="button"
              data-path="cloth"
              aria-pressed={chosen === 'cloth'}
              onClick={() => choose('cloth')}
              className={`absolute z-10 h-7 -translate-y-1/2 rounded-[7px] border px-3 font-semibold ${chosen === 'cloth' ? 'border-lamp bg-lamp text-black' : 'border-soft bg-room hover:bg-shelf'}`}
              style={{ left: layout.clothX - 8, top: layout.clothY }}
            >
              cloth
              {obstacleAt(scene, 'cloth') && (
                <span
                  title={obstacleAt(scene, 'cloth')}
                  className="absolute -top-1 -right-1 size-2.5 rotate-45 border border-room bg-ember"
                />
              )}
            </button>
          )}
          {beads(layout.clothBeads, layout.clothStepsPath, 'var(--color-soft)')}
          {!inside && (
            <AddStep
              x={layout.clothAdd.x}
              y={layout.clothAdd.y}
              width={layout.beadWidth}
              label="Add a finishing step"
              image={scene?.paths.cloth}
              onAdd={add(layout.clothStepsPath)}
            />
          )}
        </div>
      </DndContext>
    </section>
  );
}
