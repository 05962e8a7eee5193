import { strandOwners } from '../../../../core/recipe/walk';
import { X } from 'lucide-react';
import { COMPARES } from '../../stage/compare';
import { useApp, useSend } from '../../store/store';
import { looked } from '../../store/view';
import { Choice, IconButton } from '../../ui/controls';
import { Pick } from '../../ui/Pick';

/** What the picture is held against, and how: shown while it is. */
export function AgainstBar({ nothing }: { nothing: boolean }) {
  const view = useApp((state) => state.view);
  const recipe = useApp((state) => state.draft.recipe);
  const send = useSend();
  if (!recipe) return null;
  const options = [
    { value: 'before', label: 'the state before' },
    ...strandOwners(recipe).map(({ id = '', path }) => ({ value: path, label: id })),
    { value: 'cloth', label: 'cloth' },
  ];
  return (
    <div className="pointer-events-auto absolute bottom-14 left-1/2 flex -translate-x-1/2 items-center gap-4 rounded-lg border border-rim bg-black/85 px-3 py-1.5 text-[13px] whitespace-nowrap">
      <Choice
        label="against"
        value={view.compare}
        options={COMPARES.filter(({ value }) => value !== 'off')}
        onChange={(compare) => send(looked({ compare }))}
      />
      <Pick
        label="with"
        value={view.against ?? 'before'}
        options={options}
        onChange={(value) => send(looked({ against: value === 'before' ? null : value }))}
      />
      {nothing && <span className="text-soft">nothing comes before this</span>}
      <IconButton label="No longer" onClick={() => send(looked({ compare: 'off' }))}>
        <X size={14} />
      </IconButton>
    </div>
  );
}
