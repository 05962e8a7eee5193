import type { Recipe, Step } from '@owl-loom/recipe/schema';
import { stepOwnerAt } from '@owl-loom/recipe/walk';
import { useStrandColours } from '../../session/strands';
import type { FoldedRowPlace } from './layout';

/** Threads that are quiet just now, in one line: each a name with a mark for every step, and a press to unfold it. */
export function FoldedRun({
  run,
  recipe,
  noticeAt,
  onChoose,
}: {
  run: FoldedRowPlace;
  recipe: Recipe;
  noticeAt: (path: string) => string | undefined;
  onChoose: (path: string) => void;
}) {
  const strandColour = useStrandColours(recipe);
  return (
    <div
      className="absolute z-10 flex h-[22px] -translate-y-1/2 gap-1 overflow-hidden"
      style={{ left: 6, top: run.y, width: run.width }}
    >
      {run.paths.map((path) => {
        const owner = stepOwnerAt(recipe, path);
        if (!owner) return null;
        const { id = '', steps, stepsPath, kind } = owner;
        const notice = noticeAt(path) ?? noticeAt(owner.sourcePath);
        return (
          <button
            key={path}
            type="button"
            data-path={path}
            aria-pressed={false}
            title={notice ?? (steps.length > 0 ? `${id}: ${steps.map((step) => step.name ?? step.do).join(', ')}` : id)}
            onClick={() => onChoose(path)}
            className="flex min-w-0 items-center gap-1 rounded-[6px] border border-edge bg-room px-1.5 text-[12px] font-medium hover:bg-shelf"
            style={{ color: kind === 'strand' ? strandColour(id) : 'var(--color-text)' }}
          >
            <span className="truncate">{id}</span>
            {notice && <Mark ember />}
            {steps.map((step, k) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a step has no other name than its place
              <Mark key={k} off={step.off} ember={noticeAt(`${stepsPath}[${k}]`) !== undefined} />
            ))}
          </button>
        );
      })}
    </div>
  );
}

/** A step, as small as it can be: hollow where it is off, marked where something is wrong with it. */
function Mark({ off, ember = false }: { off?: Step['off']; ember?: boolean }) {
  return (
    <span
      aria-hidden="true"
      className={`h-2 w-1 shrink-0 rounded-[2px] border ${ember ? 'border-ember bg-ember' : off ? 'border-current opacity-50' : 'border-current bg-current opacity-60'}`}
    />
  );
}
