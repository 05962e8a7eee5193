import { ArrowRight, Plus } from 'lucide-react';
import type { Mask, Recipe } from '@owl-loom/recipe/schema';
import { maskOwners } from '@owl-loom/recipe/walk';
import { selectionChanged } from '../../store/draft';
import { useAppDispatch } from '../../store/store';
import { IconButton } from '../../ui/controls';
import { Menu } from '../../ui/Menu';
import { Pick } from '../../ui/Select';
import { setValue } from '../../document/edit';
import { startMask, useMaskStarts } from '../../session/mask-presets';

const NONE = '—';
const OWN = 'Own mask';

/** What a layer or a step is seen through: nothing, a shared mask, one of its own, or a new one made by one press. */
export function MaskLine({ path, mask, recipe }: { path: string; mask: string | Mask | undefined; recipe: Recipe }) {
  const send = useAppDispatch();
  const starts = useMaskStarts(path);
  const shared = maskOwners(recipe);
  const value = mask === undefined ? NONE : typeof mask === 'string' ? mask : OWN;
  const open = typeof mask === 'string' ? shared.find(({ id }) => id === mask)?.path : mask && `${path}.mask`;
  const known = shared.map(({ id = '' }) => id);
  const options = [NONE, ...known, ...(known.includes(value) || value === NONE ? [] : [value])];
  return (
    <div className="flex items-center gap-1">
      <div className="grow">
        <Pick
          label="mask"
          value={value}
          options={options.map((name) => ({ value: name, label: name === NONE ? 'none' : name }))}
          onChange={(next) => next !== OWN && setValue(`${path}.mask`, next === NONE ? undefined : next)}
        />
      </div>
      <Menu align="end" items={starts.map((start) => ({ label: start.label, onSelect: () => startMask(start, path) }))}>
        <button
          type="button"
          aria-label="New mask"
          title="New mask"
          className="inline-flex size-7 items-center justify-center rounded-md text-soft hover:bg-shelf hover:text-text"
        >
          <Plus size={14} />
        </button>
      </Menu>
      <IconButton label="Open the mask" disabled={!open} onClick={() => open && send(selectionChanged(open))}>
        <ArrowRight size={14} />
      </IconButton>
    </div>
  );
}
