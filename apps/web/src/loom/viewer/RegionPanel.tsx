import { strandOwners } from '@owl-loom/recipe/walk';
import { X } from 'lucide-react';
import { useState } from 'react';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { RegionReply } from '../../../worker/protocol';
import { useAppSelector, useAppDispatch } from '../../store/store';
import { viewChanged } from '../../store/view';
import { Button, IconButton } from '../../ui/controls';
import { count, figure } from '../../ui/numbers';
import { setValue } from '../../document/edit';
import { useReport, useHashes, useSession } from '../../session/session';
import { useStrandColours } from '../../session/strands';
import { stepAt } from '@owl-loom/recipe/paths';
import { useKeyedEffect } from '../../ui/use-keyed-effect';

/** Steps that work in a region of their own, and what their button says. */
const REGIONAL: Readonly<Record<string, string>> = {
  'linear-fit': 'Fit in this region',
  'level-sky': 'Use for sky level',
  crop: 'Crop to this',
};

const PLANES = ['r', 'g', 'b'] as const;

/** What lies in the drawn rectangle, for every strand at once; and what it can be used for. */
export function RegionPanel({ rect, chosen }: { rect: Rect; chosen: string }) {
  const { engine } = useSession();
  const hashes = useHashes();
  const described = useReport();
  const recipe = useAppSelector((state) => state.draft.recipe);
  const strandColour = useStrandColours(recipe);
  const send = useAppDispatch();
  const [reply, setReply] = useState<RegionReply>();

  // Described stands for what was measured.
  useKeyedEffect(() => {
    let over = false;
    const strands = recipe ? strandOwners(recipe).map(({ path }) => path) : [];
    const paths = [...strands, 'cloth'].filter((path) => hashes[path]);
    engine.ask({ type: 'region', rect, paths }).then(
      (found) => {
        if (!over) setReply(found);
      },
      // A state that cannot be computed has its sentence elsewhere.
      () => {
        if (!over) setReply(undefined);
      },
    );
    return () => {
      over = true;
    };
  }, [engine, rect, hashes, described, recipe]);

  if (!recipe) return null;
  const step = stepAt(recipe, chosen);
  const use = step?.do ? REGIONAL[step.do] : undefined;
  const close = () => send(viewChanged({ region: null }));
  const rows = [
    ...strandOwners(recipe).map(({ id = '', path }) => ({ path, name: id, colour: strandColour(id) })),
    { path: 'cloth', name: 'cloth', colour: 'var(--color-text)' },
  ];
  return (
    <section
      aria-label="Region"
      className="pointer-events-auto absolute top-12 right-3 max-h-[70%] overflow-y-auto rounded-lg border border-rim bg-black/85 px-3 py-2 text-[12.5px] shadow-2xl"
    >
      <header className="mb-1 flex items-center justify-between gap-4">
        <span className="figures text-soft">
          {count(rect.width)} × {count(rect.height)} px at x {rect.x}, y {rect.y}
          {reply && reply.level > 0 ? ` · measured at 1:${2 ** reply.level}` : ''}
        </span>
        <IconButton label="Clear region (Esc)" onClick={close}>
          <X size={14} />
        </IconButton>
      </header>
      {/* Above the table and at the side that stays: what comes into it moves nothing under the hand. */}
      <div className="mb-1.5 flex justify-end gap-2">
        <Button
          small
          onClick={() => {
            setValue('sky', rect);
            close();
          }}
        >
          Use as sky background
        </Button>
        <Button
          small
          title="Warns if edits elsewhere change the colours in this region"
          onClick={() => {
            send(viewChanged({ guard: rect }));
            close();
          }}
        >
          Guard colours
        </Button>
        {use && (
          <Button
            small
            look="lamp"
            onClick={() => {
              if (step?.do === 'crop') setValue(chosen, { ...step, ...rect });
              else setValue(`${chosen}.region`, rect);
              close();
            }}
          >
            {use}
          </Button>
        )}
        {chosen === 'cloth' && (
          <Button
            small
            onClick={() => {
              setValue('cloth.extent', rect);
              close();
            }}
          >
            Export only this region
          </Button>
        )}
      </div>
      <table className="figures">
        <thead>
          <tr className="text-left text-[11.5px] text-hush">
            {['', 'median', 'mean', 'noise', 'min', 'max'].map((head) => (
              <th key={head} className="pr-4 font-normal">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.flatMap(({ path, name, colour }) =>
            (reply?.planes[path] ?? []).map((plane, p, all) => (
              <tr key={`${path} ${PLANES[p]}`}>
                <td className="pr-4 font-sans" style={{ color: colour }}>
                  {p === 0 ? name : ''}
                  {all.length === 3 && <span className="text-hush"> {PLANES[p]}</span>}
                </td>
                {[plane.median, plane.mean, plane.noise, plane.min, plane.max].map((value, k) => (
                  <td key={['median', 'mean', 'noise', 'min', 'max'][k]} className="pr-4">
                    {figure(value, k === 2 ? 5 : 4)}
                  </td>
                ))}
              </tr>
            )),
          )}
        </tbody>
      </table>
    </section>
  );
}
