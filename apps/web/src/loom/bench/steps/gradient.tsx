import type { Measurement } from '#engine/measurements/index';
import type { gradient } from '#recipe/steps/gradient';
import { Button } from '../../../ui/controls';
import { count, figure } from '../../../ui/numbers';
import { useReport } from '../../session';
import { useMeasured } from '../editor';
import { Rows, Section } from '../Rows';
import { type PropsOf, ParamChoice, ParamSlider } from './editor';

export function GradientEditor(props: PropsOf<typeof gradient>) {
  const { path, params, set } = props;
  const described = useReport();
  const measured = useMeasured(path) as { samples: number; level: number[] } | undefined;
  const found = described?.charts[path] as Extract<Measurement, { kind: 'gradient' }> | undefined;
  const byHand = params.samples !== 'auto';
  return (
    <>
      <Section>
        <ParamChoice
          of={props}
          name="model"
          label="surface"
          options={[
            { value: 'spline', label: 'spline', hint: 'Follows uneven glow; smoothing keeps it calm.' },
            { value: 'polynomial', label: 'polynomial', hint: 'One simple bend over the whole field.' },
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
            { value: 'subtract', label: 'subtract', hint: 'For light that was added, such as a town\u2019s glow.' },
            { value: 'divide', label: 'divide', hint: 'For light that was lost, as towards dim corners.' },
          ]}
        />
      </Section>
      <Section title="samples on the sky">
        <Rows
          rows={[
            ['boxes', measured ? `${count(measured.samples)}, ${byHand ? 'by hand' : 'found by itself'}` : '…'],
            ...(measured ? [['level kept', measured.level.map((v) => figure(v, 5)).join(' ')] as const] : []),
          ]}
        />
        <p className="text-[12.5px] text-hush">
          Drag a box on the picture to move it; double-click the sky to add one, a box to remove it. Press T to see what
          is taken out.
        </p>
        <div className="flex gap-2">
          <Button small disabled={byHand || !found} onClick={() => found && set('samples', [...found.boxes])}>
            Keep these boxes
          </Button>
          <Button small disabled={!byHand} onClick={() => set('samples', 'auto')}>
            Find them again
          </Button>
        </div>
      </Section>
    </>
  );
}
