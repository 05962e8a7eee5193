import { TriangleAlert } from 'lucide-react';
import { useApp } from '../../store/store';
import { placeName, stepName } from '../../../../core/recipe/names';
import { usePicture, useSession } from '../session';
import { obstacleAt } from '../notices';

/** Says what the picture shows, and what keeps it from showing what was asked for. */
export function StateLine({
  path,
  fault,
  settling,
  named,
}: {
  path: string;
  fault: string | undefined;
  settling: boolean;
  named: unknown;
}) {
  const { scene } = useSession();
  const { shown } = usePicture();
  const recipe = useApp((state) => state.draft.recipe);
  const view = useApp((state) => state.view);
  const info = scene?.paths[path];
  if (!recipe) return null;
  const kind = named && typeof named === 'object' && 'do' in named ? String(named.do) : undefined;
  const broken = !info
    ? (scene?.faults.find((f) => path.startsWith(f.path) || f.path.startsWith(path)) ?? scene?.faults[0])
    : undefined;
  const obstacle = obstacleAt(scene, path);
  const message = broken ? broken.message : (fault ?? obstacle);
  const linear = info?.domain === 'linear';
  const bright = linear
    ? view.mode === 'bright'
      ? view.anchor && path.startsWith('strands')
        ? 'one brightness for all strands'
        : 'brightened to look at, still linear'
      : 'linear, as it is'
    : info?.domain === 'stretched'
      ? 'stretched'
      : '';
  return (
    <div className="pointer-events-none absolute inset-x-3 top-3 flex flex-col items-start gap-2">
      <div className="rounded-md bg-black/75 px-3 py-1.5 text-[13px]">
        <b className="font-semibold">{placeName(recipe, path)}</b>
        {kind && (
          <span className="text-soft">
            {' '}
            {view.taken ? '· what was taken out by' : 'after'} {stepName(kind)}
          </span>
        )}
        {bright && !(view.taken && kind) && <span className="text-hush"> · {bright}</span>}
        {obstacle ? (
          <span className="text-ember"> · cannot be finished</span>
        ) : (
          settling && <span className="text-lamp"> · settling</span>
        )}
        {shown?.reply.proof && !settling && (
          <span className="text-soft" title="These are the pixels of the true full size, as they would be written.">
            {' '}
            · proof
          </span>
        )}
      </div>
      {message && (
        <div
          role="alert"
          className="flex max-w-xl items-start gap-2 rounded-md border border-ember/50 bg-black/85 px-3 py-2 text-[13px]"
        >
          <TriangleAlert size={15} className="mt-0.5 shrink-0 text-ember" />
          <span>{message}</span>
        </div>
      )}
    </div>
  );
}
