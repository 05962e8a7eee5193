import { DRIFTS, type DriftSummary } from '@owl-loom/algorithms/colour/drift';
import { DRIFT_COLOURS, DRIFT_ENDS } from '../../../worker/drift';
import { useAppSelector, useAppDispatch } from '../../store/store';
import { viewChanged } from '../../store/view';
import { Button, Choice } from '../../ui/controls';
import { driftText } from './drift-text';
import { useDriftLook } from './use-drift-look';

const UNITS = { hue: '°', lightness: '', chroma: '' } as const;
const ENDS = {
  hue: ['clockwise', 'counter-clockwise'],
  lightness: ['darker', 'lighter'],
  chroma: ['less chroma', 'more chroma'],
} as const;

const css = (colour: readonly number[]): string => `rgb(${colour.join(' ')})`;

/** The scale of a drift map and what it tells, in words. */
export function DriftLine({ told: drift }: { told: DriftSummary | null | undefined }) {
  const kind = useAppSelector((state) => state.view.driftOf);
  const send = useAppDispatch();
  const { mask, within } = useDriftLook();
  const end = `${DRIFT_ENDS[kind]}${UNITS[kind]}`;
  const place = within ? 'Outside the region: ' : mask ? 'Outside the mask: ' : '';
  const max = drift?.most;
  return (
    <div className="flex flex-col items-center gap-1.5 pb-0.5" data-testid="drift">
      <div className="flex items-center gap-3">
        <Choice
          label="Show change of"
          hideLabel
          value={kind}
          options={DRIFTS.map((value) => ({ value, label: value }))}
          onChange={(driftOf) => send(viewChanged({ driftOf }))}
        />
        <span className="figures flex items-center gap-2 text-hush">
          −{end} {ENDS[kind][0]}
          <i
            aria-hidden="true"
            className="h-2 w-28 rounded-full"
            style={{
              background: `linear-gradient(to right, ${css(DRIFT_COLOURS.down)}, #444, ${css(DRIFT_COLOURS.up)})`,
            }}
          />
          {ENDS[kind][1]} +{end}
        </span>
      </div>
      {drift && (
        <span className="flex items-center gap-2 text-soft">
          {place}
          {place ? driftText(drift, kind) : `${driftText(drift, kind)} of the view`}
          {max && (
            <Button small look="quiet" onClick={() => send(viewChanged({ attributionRect: max }))}>
              Go to maximum
            </Button>
          )}
        </span>
      )}
    </div>
  );
}
