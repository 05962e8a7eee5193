import { useSortable } from '@dnd-kit/sortable';
import type { Step } from '@owl-loom/recipe/schema';
import { Hint } from '../../ui/controls';
import { stepName } from '@owl-loom/recipe/names';
import type { BeadPlace } from './layout';

/** One step on its thread. It can be dragged along the thread; a bead that is off is hollow, a warned one carries a mark. */
export function Bead({
  place,
  width,
  step,
  colour,
  chosen,
  notice,
  onChoose,
}: {
  place: BeadPlace;
  width: number;
  step: Step;
  colour: string;
  chosen: boolean;
  notice: string | undefined;
  onChoose: () => void;
}) {
  const { attributes, listeners, setNodeRef, transform, isDragging } = useSortable({ id: place.path });
  const label = step.name ?? stepName(step.do);
  const part = step.opacity !== undefined && step.opacity < 1 ? ` ${Math.round(step.opacity * 100)} %` : '';
  const bead = (
    <button
      ref={setNodeRef}
      type="button"
      {...attributes}
      {...listeners}
      aria-roledescription="step"
      data-path={place.path}
      aria-pressed={chosen}
      aria-label={`${label}${step.off ? ', off' : ''}${notice ? ', has a warning' : ''}`}
      onClick={onChoose}
      className={`absolute flex h-6 -translate-y-1/2 items-center justify-center rounded-[7px] border px-1.5 text-[12.5px] ${chosen ? 'border-lamp bg-lamp font-medium text-black' : 'bg-room hover:bg-shelf'} ${step.off ? 'border-dashed text-hush line-through' : ''} ${isDragging ? 'z-20 opacity-90 shadow-xl' : 'z-10'}`}
      style={{
        left: place.x,
        width,
        top: place.y,
        borderColor: chosen ? undefined : colour,
        transform: transform ? `translate(${transform.x}px, -50%)` : undefined,
      }}
    >
      <span className="truncate">
        {label}
        {part}
      </span>
      {notice && (
        <span aria-hidden="true" className="absolute -top-1 -right-1 size-2.5 rotate-45 border border-room bg-ember" />
      )}
    </button>
  );
  return notice ? <Hint text={notice}>{bead}</Hint> : bead;
}
