import { gradient } from '@owl-loom/recipe/steps/gradient';
import { Button } from '../../ui/controls';
import { count, figure } from '../../ui/numbers';
import { useChart, useStepReport } from '../../session/measured-values';
import { Rows, Section } from '../fields/Rows';
import { type PropsOf, ParamChoice, ParamSlider } from '../fields/step-editor';

export function GradientEditor(props: PropsOf<typeof gradient>) {
  const { path, params, set } = props;
  const measured = useStepReport(path, gradient);
  const found = useChart(path, 'gradient');
  const byHand = params.samples !== 'auto';
  return (
    <>
      <Section>
        <ParamChoice
          of={props}
          name="model"
          options={[
            { value: 'spline', label: 'spline', hint: 'Follows uneven glow; smoothing controls how closely' },
            { value: 'polynomial', label: 'polynomial', hint: 'One smooth surface over the whole field' },
          ]}
        />
        {params.model === 'spline' ? (
          <ParamSlider of={props} name="smoothing" min={0.01} max={1000} log />
        ) : (
          <ParamSlider of={props} name="degree" min={1} max={4} whole />
        )}
        <ParamChoice
          of={props}
          name="by"
          options={[
            { value: 'subtract', label: 'subtract', hint: 'For added light, such as light pollution' },
            { value: 'divide', label: 'divide', hint: 'For lost light, such as vignetting' },
          ]}
        />
      </Section>
      <Section title="Background samples">
        <Rows
          rows={[
            ['Samples', measured ? `${count(measured.samples)}, ${byHand ? 'manual' : 'automatic'}` : '…'],
            ...(measured ? [['Sky level kept', measured.level.map((v) => figure(v, 5)).join(' ')] as const] : []),
          ]}
        />
        <p className="text-[12.5px] text-hush">
          Drag a box on the picture to move it; double-click the sky to add one, a box to remove it. Press T to see the
          removed gradient.
        </p>
        <div className="flex gap-2">
          <Button small disabled={byHand || !found} onClick={() => found && set('samples', [...found.boxes])}>
            Edit these samples
          </Button>
          <Button small disabled={!byHand} onClick={() => set('samples', 'auto')}>
            Automatic samples
          </Button>
        </div>
      </Section>
    </>
  );
}
