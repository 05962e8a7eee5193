import { Pin, X } from 'lucide-react';
import { useState } from 'react';
import { useParams } from 'react-router';
import { layersOfList, maskOwners, strandOwners } from '@owl-loom/recipe/walk';
import type { Recipe } from '@owl-loom/recipe/schema';
import { usePalettesQuery, useSwatchesQuery, useTargetQuery } from '../../store/api';
import type { SwatchRow } from '@owl-loom/api/swatches';
import type { TargetCard } from '@owl-loom/api/targets';
import { COMPARES } from '../../image-view/compare';
import { useAppSelector, useAppDispatch } from '../../store/store';
import { type ComparisonTarget, viewChanged } from '../../store/view';
import { Choice, IconButton } from '../../ui/controls';
import { Pick, type PickOption } from '../../ui/Select';
import { ownerName } from '@owl-loom/recipe/names';
import { usePicture, useSession } from '../../session/session';
import { DriftLine } from './DriftLine';
import type { Other } from './use-other';

/** Everything that a picture can be held against, by the texts that stand for it in a list. */
function choicesOf(
  recipe: Recipe,
  id: string | null,
  target: TargetCard | undefined,
  palettes: readonly string[],
  swatches: readonly SwatchRow[],
  held: boolean,
): (PickOption<string> & { readonly against: ComparisonTarget })[] {
  const place = (path: string, label: string, group: string) => ({
    value: `place ${path}`,
    label,
    group,
    against: { kind: 'place', path } as const,
  });
  return [
    { value: 'before', label: 'Before this step', against: { kind: 'before' } },
    { value: 'unmasked', label: 'Without its mask', against: { kind: 'unmasked' } },
    ...(held ? [{ value: 'held', label: 'Reference state', against: { kind: 'held' } as const }] : []),
    { value: 'opened', label: 'Recipe as opened', against: { kind: 'opened' } },
    place('cloth', 'cloth', 'in this recipe'),
    ...layersOfList(recipe, 'cloth.layers').flatMap((owner) => [
      place(`${owner.path}@cloth`, `cloth up to ${ownerName(recipe, owner)}`, 'in this recipe'),
      place(owner.path, `${ownerName(recipe, owner)} alone`, 'in this recipe'),
    ]),
    ...strandOwners(recipe).map(({ id: name = '', path }) => place(path, name, 'in this recipe')),
    ...maskOwners(recipe).map((owner) => place(owner.path, ownerName(recipe, owner), 'in this recipe')),
    ...swatches.map((row) => ({
      value: `swatch ${row.id}`,
      label: row.note ? `${row.name}: ${row.note}` : row.name,
      group: 'swatches',
      against: { kind: 'swatch', id: row.id, own: row.recipeId === id } as const,
    })),
    ...(target?.recipes ?? [])
      .filter((row) => row.id !== id)
      .map((row) => ({
        value: `recipe ${row.id}`,
        label: row.name,
        group: 'other recipes',
        against: { kind: 'recipe', id: row.id } as const,
      })),
    ...palettes.map((name) => ({
      value: `palette ${name}`,
      label: name,
      group: 'palettes',
      against: { kind: 'palette', name } as const,
    })),
  ];
}

const keyOf = (against: ComparisonTarget): string => {
  if (against.kind === 'place') return `place ${against.path}`;
  if (against.kind === 'recipe') return `recipe ${against.id}`;
  if (against.kind === 'swatch') return `swatch ${against.id}`;
  return against.kind === 'palette' ? `palette ${against.name}` : against.kind;
};

/** What the picture is held against, and how: shown while it is. */
export function AgainstBar({ other }: { other: Other | undefined }) {
  const { id: targetId = '' } = useParams();
  const view = useAppSelector((state) => state.view);
  const { recipe, id } = useAppSelector((state) => state.draft);
  const { beside, scene } = useSession();
  const { shown } = usePicture();
  const { data: target } = useTargetQuery(targetId);
  // How the stacks lie has to be found for the palettes: only where someone looks for one.
  const [sought, setSought] = useState(view.comparisonTarget.kind === 'palette');
  const { data: sheet } = usePalettesQuery(targetId, { skip: !sought });
  const { data: swatches = [] } = useSwatchesQuery(targetId);
  const send = useAppDispatch();
  if (!recipe) return null;
  const palettes = (sheet?.entries ?? []).filter((entry) => entry.recipe).map(({ name }) => name);
  const choices = choicesOf(recipe, id, target, palettes, swatches, view.heldRecipe !== null);
  const apart = view.compare === 'difference' ? shown?.reply.apart : undefined;
  const missing =
    beside.state === 'missing'
      ? beside.why
      : other || beside.state === 'coming'
        ? undefined
        : (scene?.besideFault ?? (beside.state === 'none' ? 'Nothing comes before this step.' : undefined));
  return (
    <div className="pointer-events-auto absolute top-12 left-1/2 flex -translate-x-1/2 flex-col items-center gap-1.5 rounded-lg border border-rim bg-black/85 px-3 py-1.5 text-[13px] whitespace-nowrap">
      <div className="flex items-center gap-3">
        <Choice
          label="against"
          hideLabel
          value={view.compare}
          options={COMPARES.filter(({ value }) => value !== 'off')}
          onChange={(compare) => send(viewChanged({ compare }))}
        />
        <Pick
          label="with"
          value={keyOf(view.comparisonTarget)}
          options={choices}
          onOpen={() => setSought(true)}
          onChange={(value) => {
            const found = choices.find((choice) => choice.value === value);
            if (found) send(viewChanged({ comparisonTarget: found.against }));
          }}
        />
        <IconButton
          label="Set as reference state"
          active={view.comparisonTarget.kind === 'held' && view.heldRecipe === recipe}
          onClick={() => send(viewChanged({ heldRecipe: recipe, comparisonTarget: { kind: 'held' } }))}
        >
          <Pin size={14} />
        </IconButton>
        <IconButton label="Stop comparing" onClick={() => send(viewChanged({ compare: 'off' }))}>
          <X size={14} />
        </IconButton>
      </div>
      {missing && <span className="max-w-[34rem] text-soft whitespace-normal">{missing}</span>}
      {view.compare === 'drift' && <DriftLine told={shown?.reply.drift} />}
      {apart && (
        <span className="text-soft">
          Grey = no difference · <b className="figures font-normal text-text">{(100 * apart.share).toFixed(1)} %</b> of
          the view differs, by <b className="figures font-normal text-text">{apart.most.toPrecision(2)}</b> at most
        </span>
      )}
    </div>
  );
}
