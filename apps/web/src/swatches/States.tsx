import { format, formatDistanceToNow } from 'date-fns';
import { type ReactNode, useEffect, useMemo, useRef, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { diffRecipes } from '@owl-loom/recipe/diff';
import { BRING_BACK } from '../session/restore-from-url';
import { faultText, useNameStateMutation, useStateQuery, useStatesQuery, useWeaveStateMutation } from '../store/api';
import type { StateRow } from '@owl-loom/api/recipes';
import type { TargetCard } from '@owl-loom/api/targets';
import { showError } from '../store/show-error';
import { Button } from '../ui/controls';
import { Pick } from '../ui/Select';
import { Trouble } from '../ui/ErrorText';
import { TypedInPlace } from '../ui/InlineTextField';
import { Aside } from './ThumbnailColumn';
import { type How, Large, Pairing, type Shown } from './LargePicture';
import { pastPicture } from '../store/thumbnail-urls';
import { type Tile, Tiles } from './Tiles';
import { useComparisonSelection } from './use-comparison';
import { DiffList } from './DiffList';

/** States that are shown at first, and with every press for more. */
const SOME = 12;

/** When a state was. */
const timeOf = ({ createdAt }: StateRow): string => format(new Date(createdAt), 'd MMM yyyy, HH:mm:ss');

/** What it is called: its name, or when it was. */
const nameOf = (state: StateRow): string => state.label ?? timeOf(state);

/** Every state that a recipe has had, newest first: looked at as pictures, held against each other, named and brought back. */
export function States({ target, recipe, tabs }: { target: TargetCard; recipe: string; tabs: ReactNode }) {
  const { data: states, error } = useStatesQuery(recipe, { refetchOnMountOrArgChange: true });
  const [, setSearch] = useSearchParams();
  const [chosen, setChosen] = useState<string>();
  const [max, setMost] = useState(SOME);
  const [how, setHow] = useState<How>('wipe');
  const { held, turn, none } = useComparisonSelection();
  const shown = useMemo(() => states?.slice(0, max) ?? [], [states, max]);
  useWoven(shown);
  if (!states) return error ? <Trouble message={faultText(error)} /> : null;
  const one = states.find(({ id }) => id === chosen) ?? states[0];
  const others = held.flatMap((wanted) =>
    states.filter(({ id, picture }) => picture && id === wanted && id !== one?.id),
  );
  const pictured = (state: StateRow | undefined): Shown[] => {
    const picture = pastPicture(state?.picture);
    return state && picture ? [{ id: state.id, name: nameOf(state), picture }] : [];
  };
  const tiles = shown.map((state): Tile => {
    const { id, conflict, picture, createdAt } = state;
    return {
      id,
      name: nameOf(state),
      title: timeOf(state),
      picture: pastPicture(picture),
      empty: state.trouble ? 'no picture' : 'weaving …',
      bare: true,
      note: conflict ? 'conflicting version' : `${formatDistanceToNow(new Date(createdAt))} ago`,
    };
  });
  return (
    <>
      <section className="flex min-w-0 grow flex-col">
        <Large
          shown={pictured(one)[0]}
          others={others.flatMap(pictured)}
          how={how}
          instead={one?.trouble ?? 'Weaving …'}
        />
        {one && (
          <StateFoot key={one.id} target={target} state={one} newest={states[0]}>
            {others.length > 0 && <Pairing names={others.map(nameOf)} how={how} onHow={setHow} onAlone={none} />}
          </StateFoot>
        )}
      </section>
      <Aside tabs={tabs}>
        {target.recipes.length > 1 && (
          <div className="shrink-0 px-4 pb-3">
            <Pick
              label="of"
              value={recipe}
              options={target.recipes.map(({ id, name }) => ({ value: id, label: name }))}
              onChange={(of) => setSearch({ show: 'states', of }, { replace: true })}
            />
          </div>
        )}
        <div tabIndex={0} className="min-h-0 grow overflow-y-auto px-4 pb-4">
          <Tiles
            kind="past"
            tiles={tiles}
            chosen={one?.id}
            against={others.map(({ id }) => id)}
            onChoose={setChosen}
            onAgainst={turn}
          />
          {states.length > max && (
            <Button small className="mt-3" onClick={() => setMost(max + SOME)}>
              Show {states.length - max} older
            </Button>
          )}
        </div>
      </Aside>
    </>
  );
}

/** Has the pictures of states woven that have none, once each. */
function useWoven(states: readonly StateRow[]): void {
  const [weave] = useWeaveStateMutation();
  const asked = useRef(new Set<string>());
  useEffect(() => {
    for (const { id, picture, trouble } of states) {
      if (picture || trouble || asked.current.has(id)) continue;
      asked.current.add(id);
      void weave(id).then(showError);
    }
  }, [states, weave]);
}

/** Under the large picture: its name, what has changed since, and the way back. */
function StateFoot({
  target,
  state,
  newest,
  children,
}: {
  target: TargetCard;
  state: StateRow;
  newest: StateRow;
  children: ReactNode;
}) {
  const [name] = useNameStateMutation();
  const navigate = useNavigate();
  const { data: own } = useStateQuery(state.id);
  const { data: now } = useStateQuery(newest.id);
  const differences = useMemo(() => own && now && diffRecipes(own.body, now.body), [own, now]);
  const isNow = state.id === newest.id;
  return (
    <footer className="shrink-0 space-y-2 border-t border-edge bg-board px-4 py-2">
      <div className="flex items-center gap-4">
        <div className="min-w-0 grow">
          <TypedInPlace
            label="Name (named versions are kept)"
            value={state.label ?? ''}
            most={200}
            className="-ml-2 w-full min-w-0 font-semibold"
            onKeep={(to) => void name({ id: state.id, label: to.trim() || null }).then(showError)}
          />
          <p className="text-[12.5px] text-soft">
            {timeOf(state)}
            {state.conflict ? ', conflicting version' : isNow ? ', current' : ''}
          </p>
        </div>
        {children}
        {!isNow && (
          <Button
            look="lamp"
            small
            onClick={() => void navigate(`/targets/${target.id}/loom/${state.recipeId}?${BRING_BACK}=${state.id}`)}
          >
            Restore
          </Button>
        )}
      </div>
      {!isNow && differences && <DiffList title="Changes since then" differences={differences} />}
    </footer>
  );
}
