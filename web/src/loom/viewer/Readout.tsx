import { strandOwners } from '../../../../core/recipe/walk';
import { useEffect, useRef, useState, useMemo } from 'react';
import { useApp } from '../../store/store';
import { figure } from '../../ui/numbers';
import { strandColour } from '../strands';
import { useHashes, useSession } from '../session';

type Values = Readonly<Record<string, readonly number[]>>;

/** Values under the pointer for every strand; asked for one pixel at a time, the newest last. */
export function Readout({ pointer, zoom }: { pointer: { x: number; y: number } | undefined; zoom: string }) {
  const { engine } = useSession();
  const hashes = useHashes();
  const recipe = useApp((state) => state.draft.recipe);
  const [values, setValues] = useState<Values>({});
  const busy = useRef(false);
  const wanted = useRef<{ x: number; y: number }>(undefined);
  const strands = useMemo(() => (recipe ? strandOwners(recipe) : []), [recipe]);

  useEffect(() => {
    wanted.current = pointer;
    if (!pointer || busy.current) return;
    const paths = [...strands.map(({ path }) => path), 'cloth'].filter((path) => hashes[path]);
    const ask = async (): Promise<void> => {
      busy.current = true;
      try {
        while (wanted.current) {
          const { x, y } = wanted.current;
          wanted.current = undefined;
          setValues(await engine.ask({ type: 'probe', x, y, paths }));
        }
      } catch {
        // A state that cannot be computed has its sentence elsewhere; here there is just no value.
        setValues({});
      } finally {
        busy.current = false;
      }
    };
    void ask();
  }, [pointer, engine, hashes, strands]);

  return (
    <div className="pointer-events-none absolute inset-x-3 bottom-3 flex items-end justify-between gap-3">
      {pointer ? (
        <div className="figures flex flex-wrap gap-x-4 gap-y-0.5 rounded-md bg-black/75 px-3 py-1.5">
          <span className="text-text">
            x {pointer.x} y {pointer.y}
          </span>
          {strands.map(({ id = '', path }) => {
            const found = values[path];
            return found ? (
              <span key={id} style={{ color: strandColour(recipe, id) }}>
                {id} {found.map((v) => figure(v)).join(' ')}
              </span>
            ) : null;
          })}
          {values.cloth && <span className="text-text">cloth {values.cloth.map((v) => figure(v, 3)).join(' ')}</span>}
        </div>
      ) : (
        <span />
      )}
      <div
        className="figures shrink-0 rounded-md bg-black/75 px-3 py-1.5 whitespace-nowrap text-soft"
        data-testid="zoom"
      >
        {zoom}
      </div>
    </div>
  );
}
