import { useParams, useSearchParams } from 'react-router';
import { faultText, useSwatchesQuery, useTargetQuery } from '../store/api';
import { Choice } from '../ui/controls';
import { Frame } from '../frame/AppFrame';
import { Trouble } from '../ui/ErrorText';
import { Kept } from './SavedSwatches';
import { Palettes } from './Palettes';
import { States } from './States';

const ROOMS = [
  { value: 'kept', label: 'Swatches' },
  { value: 'palettes', label: 'Palettes' },
  { value: 'states', label: 'History' },
] as const;
type Room = (typeof ROOMS)[number]['value'];

/** What was kept of this target, the palettes on its data, and the earlier states of a recipe: three rooms, one look. */
export function Swatches() {
  const { id = '' } = useParams();
  const { data: target, error } = useTargetQuery(id);
  const { data: swatches, error: swatchesError } = useSwatchesQuery(id);
  const [search, setSearch] = useSearchParams();
  const fault = error ?? swatchesError;
  if (!target || !swatches) return fault ? <Trouble message={faultText(fault)} /> : <Frame target={target} />;
  const asked = search.get('show');
  const of = target.recipes.find(({ id: own }) => own === search.get('of'))?.id ?? target.recipes[0]?.id;
  const room: Room =
    asked === 'kept' || asked === 'palettes' || (asked === 'states' && of)
      ? asked
      : swatches.length > 0
        ? 'kept'
        : 'palettes';
  const tabs = (
    <Choice
      hideLabel
      label="what is shown"
      value={room}
      options={of ? ROOMS : ROOMS.filter(({ value }) => value !== 'states')}
      onChange={(show) => setSearch({ show, ...(show === 'states' && of && { of }) }, { replace: true })}
    />
  );
  return (
    <div className="flex h-full flex-col">
      <Frame target={target} />
      <main className="flex min-h-0 grow">
        {room === 'states' && of ? (
          <States target={target} recipe={of} tabs={tabs} />
        ) : room === 'kept' ? (
          <Kept target={target} swatches={swatches} tabs={tabs} />
        ) : (
          <Palettes target={target} tabs={tabs} />
        )}
      </main>
    </div>
  );
}
