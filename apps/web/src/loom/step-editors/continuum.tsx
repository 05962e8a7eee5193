import { paramLabel } from '@owl-loom/recipe/steps/labels';
import { continuum } from '@owl-loom/recipe/steps/continuum';
import { Choice } from '../../ui/controls';
import { SliderField } from '../../ui/SliderField';
import { count, figure } from '../../ui/numbers';
import { useRequestedMeasurement } from '../../session/use-requested-measurement';
import { CurveChart, StarChart } from '../fields/ContinuumCharts';
import { endGesture } from '../../document/edit';
import { useChart, useStepReport } from '../../session/measured-values';
import { Leftovers } from '../fields/StarResiduals';
import { OtherStrand, ownerOf } from '../fields/OtherStrand';
import { Rows, Section } from '../fields/Rows';
import { type PropsOf, ParamSwitch } from '../fields/step-editor';

/** The share at a k, between those that were measured; undefined beyond them. */
function shareAt(shares: readonly (readonly [number, number])[], k: number): number | undefined {
  const at = shares.findIndex(([other]) => other >= k);
  if (at < 0) return undefined;
  if (at === 0) return shares[0][1];
  const [[k0, s0], [k1, s1]] = [shares[at - 1], shares[at]];
  return s0 + ((s1 - s0) * (k - k0)) / (k1 - k0);
}

export function ContinuumEditor(props: PropsOf<typeof continuum>) {
  const { path, recipe, params, setAll } = props;
  useRequestedMeasurement('continuum', path);
  const measured = useStepReport(path, continuum);
  const chart = useChart(path, 'continuum');
  const method = params.k !== undefined ? 'manual' : params.method;
  // Until the server has counted the stars there is nothing to say of k.
  const waiting = measured?.kError !== undefined && !Number.isFinite(measured.kError);
  const k = params.k ?? measured?.k ?? 0;
  const below = measured?.belowSky ?? (chart ? shareAt(chart.shares, k) : undefined);
  return (
    <>
      <Section>
        <OtherStrand label="Broadband" path={path} name="broad" value={params.broad} recipe={recipe} />
        <Choice
          label={paramLabel('continuum', 'method')}
          value={method}
          options={[
            { value: 'stars', label: 'stars', hint: 'Ratio of star fluxes in the two images' },
            {
              value: 'skewness',
              label: 'skewness',
              hint: 'At the turn of the residual’s skewness; good where starlight dominates',
            },
            { value: 'manual', label: 'Manual' },
          ]}
          onChange={(value) => setAll({ method: value, k: value === 'manual' ? Number(k.toPrecision(4)) : undefined })}
        />
        <SliderField
          label="k"
          value={k}
          min={0}
          max={Math.max(0.6, 2 * (measured?.k ?? 0.3))}
          onChange={(value) => setAll({ method: 'manual', k: value }, 'k')}
          onCommit={endGesture}
        />
        <ParamSwitch
          of={props}
          name="matchSeeing"
          no="Off"
          yes="On"
          hint="Blurs the sharper of the two to the FWHM of the other, so that stars leave no rings"
        />
        <ParamSwitch
          of={props}
          name="mend"
          no="Leave"
          yes="Fill"
          hint="Fills residuals of clipped or mismatched stars from their surroundings"
        />
      </Section>
      <Section>
        {chart && chart.pairs.length > 0 && (
          <StarChart found={chart} line={ownerOf(recipe, path) ?? 'line'} broad={params.broad} k={k} />
        )}
        {chart && chart.curve.length > 0 && <CurveChart found={chart} k={k} />}
        {chart && chart.spots.length > 0 && <Leftovers path={path} spots={chart.spots} />}
        {waiting && <p className="text-[13px] text-soft">Measuring k on the whole image …</p>}
        {measured && !waiting && (
          <Rows
            rows={[
              [
                'k',
                measured.kError === undefined
                  ? `${figure(measured.k, 4)}${measured.method === 'held' ? ', pinned' : ''}`
                  : `${figure(measured.k, 4)} ± ${figure(measured.kError, 4)}`,
              ],
              ...(measured.stars ? [['stars', count(measured.stars)] as const] : []),
              ...(measured.mended === undefined ? [] : [['Residuals filled', count(measured.mended)] as const]),
              ...(below === undefined
                ? []
                : [
                    [
                      'Pixels below sky',
                      <span key="b" className={below > 0.006 ? 'text-ember' : ''}>
                        {figure(100 * below, 2)} %
                      </span>,
                    ] as const,
                  ]),
            ]}
          />
        )}
        {measured?.starlit === false && (
          <p className="text-[12.5px] text-lamp">Nebula dominates here: skewness is unreliable, use stars.</p>
        )}
        <p className="text-[12.5px] text-hush">Too low leaves stars bright, too high leaves dark holes.</p>
      </Section>
    </>
  );
}
