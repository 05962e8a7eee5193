import { Trash2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import { UserError } from '@owl-loom/base/errors';
import { type RoleAssignment, assignRoles, applyPattern } from '@owl-loom/recipe/patterns/pattern';
import { strandOwners, stepOwnerAt } from '@owl-loom/recipe/walk';
import type { Recipe } from '@owl-loom/recipe/schema';
import { useDeletePatternMutation, usePatternsQuery } from '../../store/api';
import type { PatternRow } from '@owl-loom/api/palettes';
import { recipeChanged } from '../../store/draft';
import { useAppSelector, useAppDispatch } from '../../store/store';
import { BitmapView } from '../../ui/BitmapView';
import { Button, IconButton } from '../../ui/controls';
import { Dialog } from '../../ui/Dialog';
import { Pick } from '../../ui/Select';
import { ownerName } from '@owl-loom/recipe/names';
import { useStacks } from '../../session/stacks-context';
import { usePreview } from './use-preview';

const KINDS = { steps: 'steps', mask: 'mask', layers: 'layers' } as const;
const NOBODY = '—';

/** Threads a kept pattern into the open recipe: who plays which part, how it would look, then it is one change that undo takes back. */
export function ThreadPattern({ onClose }: { onClose: () => void }) {
  const { data: patterns = [] } = usePatternsQuery();
  const [chosen, setChosen] = useState<PatternRow>();
  const [drop] = useDeletePatternMutation();
  return (
    <Dialog wide open onOpenChange={(open) => !open && onClose()} title="Apply pattern">
      {patterns.length === 0 ? (
        <p className="text-soft">
          No patterns yet. Select a strand, layer, mask or the cloth, then choose “Save as pattern …” in the recipe
          menu.
        </p>
      ) : (
        <div className="grid grid-cols-[15rem_1fr] gap-5">
          <ul className="max-h-96 space-y-0.5 overflow-y-auto">
            {patterns.map((row) => (
              <li key={row.id} className="flex items-center">
                <button
                  type="button"
                  aria-pressed={row === chosen}
                  onClick={() => setChosen(row)}
                  className={`min-w-0 grow rounded-md px-2.5 py-1.5 text-left ${row === chosen ? 'bg-shelf text-lamp' : 'hover:bg-shelf'}`}
                >
                  <span className="block truncate">{row.name}</span>
                  <span className="block truncate text-[12.5px] text-soft">{row.says || KINDS[row.body.kind]}</span>
                </button>
                <IconButton label={`Remove ${row.name}`} onClick={() => void drop(row.id)}>
                  <Trash2 size={14} />
                </IconButton>
              </li>
            ))}
          </ul>
          {chosen ? (
            <Threading key={chosen.id} pattern={chosen} onClose={onClose} />
          ) : (
            <p className="text-soft">Select a pattern to preview it.</p>
          )}
        </div>
      )}
    </Dialog>
  );
}

function Threading({ pattern: { name, body }, onClose }: { pattern: PatternRow; onClose: () => void }) {
  const recipe = useAppSelector((state) => state.draft.recipe) as Recipe;
  const path = useAppSelector((state) => state.draft.selectedPath);
  const stacks = useStacks();
  const send = useAppDispatch();
  const [cast, setCast] = useState<RoleAssignment>(() => assignRoles(body, recipe, stacks));
  const players = [
    ...strandOwners(recipe).map(({ id = '' }) => ({ value: `strand ${id}`, label: id, group: 'strands' })),
    ...stacks.map((row) => ({ value: `stack ${row.name}`, label: row.name, group: 'stacks' })),
  ];
  const made = useMemo((): Recipe | string => {
    try {
      return applyPattern(recipe, body, cast, path);
    } catch (error) {
      if (error instanceof UserError) return error.message;
      throw error;
    }
  }, [recipe, body, cast, path]);
  const woven = typeof made === 'string' ? undefined : made;
  const preview = usePreview(woven, stacks);
  const owner = stepOwnerAt(recipe, path);
  const trouble = typeof made === 'string' ? made : preview.trouble;
  return (
    <div className="space-y-3">
      <div className="relative h-64 overflow-hidden rounded-lg border border-edge bg-pit">
        {preview.bitmap && (
          <BitmapView
            key={String(preview.bitmap.width)}
            load={() => createImageBitmap(preview.bitmap as ImageBitmap)}
            stamp={JSON.stringify(cast)}
            label={`The picture with ${name}`}
            className="size-full object-contain"
          />
        )}
        {trouble && <p className="absolute inset-0 grid place-items-center px-8 text-center text-soft">{trouble}</p>}
      </div>
      {body.kind === 'steps' && owner && (
        <p className="text-soft">
          Its steps go to the end of <b className="text-text">{ownerName(recipe, owner)}</b>, which is chosen in the
          Loom.
        </p>
      )}
      {body.roles.map(({ id, filter }) => {
        const player = cast[id];
        const value = !player ? NOBODY : 'strand' in player ? `strand ${player.strand}` : `stack ${player.stack}`;
        return (
          <Pick
            key={id}
            label={filter && filter !== id ? `${id} (${filter})` : id}
            value={value}
            options={[...(player ? [] : [{ value: NOBODY, label: 'not assigned' }]), ...players]}
            onChange={(next) => {
              const [kind, ...rest] = next.split(' ');
              const own = rest.join(' ');
              setCast({ ...cast, [id]: kind === 'strand' ? { strand: own } : { stack: own } });
            }}
          />
        );
      })}
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button
          look="lamp"
          disabled={!woven}
          onClick={() => {
            if (woven) send(recipeChanged({ recipe: woven }));
            onClose();
          }}
        >
          Apply
        </Button>
      </div>
    </div>
  );
}
