import { effectOf, isIdle, isShared, withAsIs, toggleMixInput } from '@owl-loom/recipe/mix-weights';
import type { Mix } from '@owl-loom/recipe/schema';
import { recipeChanged, gestureEnded } from '../../store/draft';
import { setAtPath } from '@owl-loom/recipe/paths';
import { completeStep } from '../../onboarding/onboarding';
import { store, useAppSelector, useAppDispatch } from '../../store/store';
import { type ColumnName, COLUMNS } from '../../document/columns';
import { useStrandColours } from '../../session/strands';
import { Knot } from './Knot';
import { type DraftLayout, mixAt } from './layout';

/** What a press on a column's or a strand's name does. */
export const switchHint = (name: string, off: boolean): string =>
  off ? `Turn ${name} on` : `Turn ${name} off (weights are kept)`;

/** Whether a weight does not count, since its strand or its column is switched off. */
const isOff = ({ off }: Mix, id: string, column: ColumnName): boolean =>
  off?.strands?.includes(id) === true || off?.columns?.includes(column) === true;

/** Changes one weight of a mix; a weight of 0 is taken out, unless it is the last of a strand that has a gain or is switched off. */
export function setWeight(path: string, column: ColumnName, id: string, weight: number): void {
  const { recipe } = store.getState().draft;
  const mix = recipe && mixAt(recipe, path);
  if (!recipe || !mix) return;
  const { [id]: _, ...others } = mix.mix[column] ?? {};
  const left = COLUMNS.some(({ name }) => name !== column && mix.mix[name]?.[id] !== undefined);
  const wanted = !left && (mix.gain?.[id] !== undefined || mix.off?.strands?.includes(id));
  const weights = weight === 0 && !wanted ? others : { ...mix.mix[column], [id]: Number(weight.toFixed(4)) };
  // A luminance without weights is none.
  const none = column === 'luminance' && Object.keys(weights).length === 0;
  const next = setAtPath(recipe, `${path}.mix.${column}`, none ? undefined : weights);
  // Alone in a shared column it would count as 1 whatever it is: from a touch on it is its strength against black.
  const alone = weight !== 0 && isIdle(mix, column, id) && mix.mix[column]?.[id] !== undefined;
  store.dispatch(
    recipeChanged({
      recipe: alone ? setAtPath(next, path, withAsIs(mixAt(next, path) ?? mix, column, true)) : next,
      gesture: `weight ${path} ${column} ${id}`,
    }),
  );
}

/** Has the weights of one column count as they are, or be shared. */
export function setAsIs(path: string, column: ColumnName, asIs: boolean): void {
  const { recipe } = store.getState().draft;
  const mix = recipe && mixAt(recipe, path);
  if (mix) store.dispatch(recipeChanged({ recipe: setAtPath(recipe, path, withAsIs(mix, column, asIs)) }));
}

/** Switches a column or a strand of a mix off for a look, or on again; its numbers stay. */
export function switchInMix(path: string, what: 'strands' | 'columns', name: string): void {
  const { recipe } = store.getState().draft;
  const mix = recipe && mixAt(recipe, path);
  if (mix) store.dispatch(recipeChanged({ recipe: setAtPath(recipe, path, toggleMixInput(mix, what, name)) }));
}

/** The grid of knots for the chosen layer's mix: strands down, red, green, blue and luminance across. */
export function TieUp({ layout }: { layout: DraftLayout }) {
  const recipe = useAppSelector((state) => state.draft.recipe);
  const strandColour = useStrandColours(recipe);
  const send = useAppDispatch();
  const { mix: path } = layout;
  const mix = recipe && path ? mixAt(recipe, path) : undefined;
  if (!recipe || !path || !mix) return null;
  // A strand woven from this very mix cannot be one of its threads.
  const effects: Partial<Record<ColumnName, Readonly<Record<string, number>>>> = Object.fromEntries(
    COLUMNS.map(({ name }) => [name, effectOf(mix, name)]),
  );
  const self = /^strands\[(\d+)\]/.exec(path)?.[1];
  return (
    <>
      {layout.rows.map((row, i) =>
        String(i) === self || row.folded
          ? null
          : layout.columns.map((column) => (
              <Knot
                key={`${row.id} ${column.name}`}
                x={column.x}
                y={row.y}
                colour={strandColour(row.id)}
                weight={mix.mix[column.name]?.[row.id] ?? 0}
                effect={effects[column.name]?.[row.id]}
                idle={isIdle(mix, column.name, row.id)}
                off={isOff(mix, row.id, column.name)}
                label={`${row.id} in ${column.name}`}
                onChange={(weight) => {
                  completeStep('knots');
                  setWeight(path, column.name, row.id, weight);
                }}
                onEnd={() => send(gestureEnded())}
              />
            )),
      )}
      {layout.columns.map((column) => {
        const shared = isShared(mix, column.name);
        const off = mix.off?.columns?.includes(column.name) === true;
        const sum = Object.values(effects[column.name] ?? {}).reduce((all, w) => all + (shared ? Math.abs(w) : w), 0);
        const sumText = off ? 'off' : Math.round(sum * 100);
        return (
          <button
            type="button"
            key={column.name}
            className={`absolute -translate-x-1/2 rounded px-1 text-center text-[11px] leading-tight hover:bg-shelf ${off ? 'opacity-45' : ''}`}
            title={switchHint(column.name, off)}
            aria-label={`${column.short} ${sumText}. ${switchHint(column.name, off)}`}
            onClick={() => switchInMix(path, 'columns', column.name)}
            style={{ left: column.x, top: 6 }}
          >
            <b className={`font-semibold ${off ? 'line-through' : ''}`} style={{ color: column.colour }}>
              {column.short}
            </b>{' '}
            <span className="figures text-[10.5px]! text-hush">{sumText}</span>
          </button>
        );
      })}
    </>
  );
}
