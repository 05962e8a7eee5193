import { changed, gestureEnded } from '../../store/draft';
import { withValue } from '../../store/paths';
import { store, useApp, useSend } from '../../store/store';
import type { ColumnName } from '../columns';
import { strandColour } from '../strands';
import { Knot } from './Knot';
import { type DraftLayout, mixAt } from './layout';

/** Changes one weight of a mix; a weight of 0 is taken out. */
export function setWeight(path: string, column: ColumnName, id: string, weight: number): void {
  const { recipe } = store.getState().draft;
  const mix = recipe && mixAt(recipe, path);
  if (!recipe || !mix) return;
  const { [id]: _, ...others } = mix.mix[column] ?? {};
  const weights = weight === 0 ? others : { ...mix.mix[column], [id]: Number(weight.toFixed(4)) };
  // A luminance without weights is none.
  const none = column === 'luminance' && Object.keys(weights).length === 0;
  store.dispatch(
    changed({
      recipe: withValue(recipe, `${path}.mix.${column}`, none ? undefined : weights),
      gesture: `weight ${path} ${column} ${id}`,
    }),
  );
}

/** The grid of knots for the chosen layer's mix: strands down, red, green, blue and luminance across. */
export function TieUp({ layout }: { layout: DraftLayout }) {
  const recipe = useApp((state) => state.draft.recipe);
  const send = useSend();
  const { mix: path } = layout;
  const mix = recipe && path ? mixAt(recipe, path) : undefined;
  if (!recipe || !path || !mix) return null;
  // A strand woven from this very mix cannot be one of its threads.
  const self = /^strands\[(\d+)\]/.exec(path)?.[1];
  return (
    <>
      {layout.rows.map((row, i) =>
        String(i) === self
          ? null
          : layout.columns.map((column) => (
              <Knot
                key={`${row.id} ${column.name}`}
                x={column.x}
                y={row.y}
                colour={strandColour(recipe, row.id)}
                weight={mix.mix[column.name]?.[row.id] ?? 0}
                label={`${row.id} in ${column.name}`}
                onChange={(weight) => setWeight(path, column.name, row.id, weight)}
                onEnd={() => send(gestureEnded())}
              />
            )),
      )}
      {layout.columns.map((column) => {
        const weights = Object.values(mix.mix[column.name] ?? {});
        const sum = weights.reduce((total, w) => total + (mix.weights === 'share' ? Math.abs(w) : w), 0);
        return (
          <span
            key={column.name}
            className="absolute -translate-x-1/2 text-center text-[11px] leading-tight"
            title={column.name}
            style={{ left: column.x, top: layout.newY - 6 }}
          >
            <b className="block font-semibold" style={{ color: column.colour }}>
              {column.short}
            </b>
            <span className="figures text-[10.5px]! text-hush">{Math.round(sum * 100)}</span>
          </span>
        );
      })}
    </>
  );
}
