import { denoise } from '@owl-loom/recipe/steps/denoise';
import { figure } from '../../ui/numbers';
import { useStepReport } from '../../session/measured-values';
import { Rows, Section } from '../fields/Rows';
import { type PropsOf, ParamSlider } from '../fields/step-editor';

export function DenoiseEditor(props: PropsOf<typeof denoise>) {
  const measured = useStepReport(props.path, denoise);
  const colour = measured?.noise.length === 3;
  const ofColour = measured?.noise.slice(1).map((v) => figure(v, 5));
  return (
    <Section>
      <ParamSlider of={props} name="strength" min={0} max={3} digits={3} />
      {colour && <ParamSlider of={props} name="chroma" min={0} max={4} digits={3} />}
      <ParamSlider of={props} name="scales" min={1} max={8} whole />
      {measured && (
        <Rows
          rows={[
            [colour ? 'Luminance noise' : 'Noise', figure(measured.noise[0], 5)],
            ...(colour ? [['Chroma noise', ofColour?.join(' ')] as const] : []),
          ]}
        />
      )}
      <p className="text-[12.5px] text-hush">Judge the finest scales at 1:1 (press 1).</p>
    </Section>
  );
}
