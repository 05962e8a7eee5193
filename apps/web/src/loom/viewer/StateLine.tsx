import { TriangleAlert } from 'lucide-react';
import { imageName, imageTitle, located, stepAt, stepName, stepTitle } from '@owl-loom/recipe/names';
import { stepLocation } from '@owl-loom/recipe/paths';
import { useAppSelector, useAppDispatch } from '../../store/store';
import { viewChanged, type Watch } from '../../store/view';
import { obstacleAt } from '../../session/notices';
import { usePicture, useSession } from '../../session/session';
import { FirstPicture } from './FirstPicture';
import { Settling } from './Settling';
import { watchable } from './watched';

const WATCHES: Readonly<Record<Watch, string>> = { bead: 'This step', layer: 'Up to here', cloth: 'Cloth' };

/** What the picture shows while the bench sets what is chosen. */
function WatchSwitch() {
  const { recipe, selectedPath: chosen } = useAppSelector((state) => state.draft);
  const watch = useAppSelector((state) => state.view.watch);
  const send = useAppDispatch();
  const can = recipe ? watchable(recipe, chosen) : [];
  if (!recipe || can.length === 0) return null;
  const all: readonly Watch[] = ['bead', ...can];
  const on = all.includes(watch) ? watch : 'cloth';
  return (
    <fieldset
      aria-label="What the picture shows"
      className="pointer-events-auto flex gap-0.5 rounded-md bg-black/75 p-0.5 text-[12px]"
    >
      {all.map((one) => (
        <button
          key={one}
          type="button"
          aria-pressed={on === one}
          title={`Show ${one === 'bead' ? imageTitle(recipe, chosen) : one === 'layer' ? 'the cloth up to this layer' : 'the whole cloth'} while editing (W)`}
          onClick={() => send(viewChanged({ watch: one }))}
          className={`rounded px-2 py-1 ${on === one ? 'bg-shelf text-lamp' : 'text-soft hover:bg-shelf'}`}
        >
          {one === 'bead' && !stepLocation(chosen) ? 'This' : WATCHES[one]}
        </button>
      ))}
    </fieldset>
  );
}

/** Says what the picture shows, what is set meanwhile, and what keeps it from showing what was asked for. */
export function StateLine({
  path,
  watching,
  fault,
  settling,
}: {
  path: string;
  /** Whether the picture stays while something else is set. */
  watching: boolean;
  fault: string | undefined;
  settling: boolean;
}) {
  const { scene } = useSession();
  const { shown } = usePicture();
  const recipe = useAppSelector((state) => state.draft.recipe);
  const chosen = useAppSelector((state) => state.draft.selectedPath);
  const view = useAppSelector((state) => state.view);
  const info = scene?.paths[path];
  if (!recipe) return null;
  const kind = watching ? undefined : stepAt(recipe, chosen)?.do;
  const broken = !info
    ? (scene?.faults.find((f) => path.startsWith(f.path) || f.path.startsWith(path)) ?? scene?.faults[0])
    : undefined;
  const obstacle = obstacleAt(scene, path);
  const message = broken ? located(recipe, broken) : (fault ?? obstacle);
  // A rectangle that can be pulled has its handles at the corners: nothing lies on those.
  const hasCorners = path === 'cloth' ? typeof recipe.cloth?.extent === 'object' : kind === 'crop';
  const linear = info?.domain === 'linear';
  const bright = linear
    ? view.mode === 'bright'
      ? view.anchor && path.startsWith('strands')
        ? `Linear · display stretch of ${view.anchor}`
        : 'Linear · display stretch'
      : 'Linear · no display stretch'
    : info?.domain === 'stretched'
      ? 'stretched'
      : '';
  return (
    <>
      {!shown && !message && <FirstPicture recipe={recipe} />}
      <div
        className={`pointer-events-none absolute inset-x-3 top-3 flex flex-col gap-2 ${hasCorners ? 'items-center' : 'items-start'}`}
      >
        <div className="flex max-w-full flex-wrap items-start gap-1.5">
          <div className="rounded-md bg-black/75 px-3 py-1.5 text-[13px]">
            <b className="font-semibold">{imageName(recipe, path)}</b>
            {watching && <span className="text-soft"> · editing {stepTitle(recipe, chosen)}</span>}
            {kind && (
              <span className="text-soft">
                {' '}
                {view.showRemoved ? '· Removed by' : 'after'} {stepName(kind)}
              </span>
            )}
            {bright && !(view.showRemoved && kind) && <span className="text-hush"> · {bright}</span>}
            {obstacle ? <span className="text-ember"> · cannot be finished</span> : settling && <Settling />}
            {shown?.reply.proof && !settling && (
              <span className="text-soft" title="Full-resolution pixels, identical to an export.">
                {' '}
                · proof
              </span>
            )}
          </div>
          <WatchSwitch />
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
    </>
  );
}
