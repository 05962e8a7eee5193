import { linearFitStep } from '@owl-loom/recipe/steps/linear-fit';
import { SliderField } from '../../ui/SliderField';
import { count, figure } from '../../ui/numbers';
import { useStrandColours } from '../../session/strands';
import { endGesture } from '../../document/edit';
import { useChart, useStepReport } from '../../session/measured-values';
import { ForAll } from '../fields/AddToAllStrands';
import { OtherStrand, ownerOf } from '../fields/OtherStrand';
import { RegionLine } from '../fields/RegionLine';
import { Rows, Section } from '../fields/Rows';
import { ScatterChart } from '../fields/ScatterChart';
import { type PropsOf, ParamChoice } from '../fields/step-editor';

export function LinearFitEditor(props: PropsOf<typeof linearFitStep>) {
  const { path, step, recipe, params, set } = props;
  const strandColour = useStrandColours(recipe);
  const measured = useStepReport(path, linearFitStep);
  const found = useChart(path, 'fit');
  const self = ownerOf(recipe, path);
  const fits = measured ? (Array.isArray(measured) ? measured : [measured]) : [];
  const [fit] = fits;
  const total = fit ? fit.used + fit.rejected : 0;
  return (
    <>
      <Section>
        <OtherStrand label="Reference" path={path} name="to" value={params.to} recipe={recipe} />
        <ParamChoice
          of={props}
          name="method"
          options={[
            {
              value: 'auto',
              label: 'auto',
              hint: 'Pixels if the two images correlate, levels if they do not',
            },
            { value: 'pixels', label: 'pixels', hint: 'Regression through the pixels, allowing for noise in both' },
            { value: 'levels', label: 'levels', hint: 'Matches sky level and signal range of the two' },
          ]}
        />
        <SliderField
          label="ignore above"
          value={params.high ?? 1}
          min={0.01}
          max={1}
          onChange={(value) => set('high', value >= 1 ? undefined : value, 'moving')}
          onCommit={endGesture}
          digits={3}
        />
        <RegionLine path={`${path}.region`} region={params.region} />
        <ForAll verb="Fit" step={step} recipe={recipe} />
      </Section>
      <Section>
        {found && self && <ScatterChart fit={found} target={self} reference={params.to} colour={strandColour(self)} />}
        {fit && (
          <Rows
            rows={[
              ['slope', fits.map((f) => `${figure(f.b)} ± ${figure(f.bError)}`).join(' · ')],
              ['offset', fits.map((f) => `${figure(f.a, 5)} ± ${figure(f.aError, 5)}`).join(' · ')],
              [
                'correlation',
                fit.correlation === undefined ? (
                  'pinned'
                ) : (
                  <span key="correlation" className={fit.method === 'levels' ? 'text-lamp' : ''}>
                    {figure(fit.correlation, 3)} → {fit.method}
                  </span>
                ),
              ],
              ...(total > 0
                ? [['pixels', `${count(fit.used)} · ${figure((100 * fit.rejected) / total, 1)} % rejected`] as const]
                : []),
            ]}
          />
        )}
      </Section>
    </>
  );
}
