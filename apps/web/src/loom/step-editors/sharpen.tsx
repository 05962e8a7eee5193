import type { sharpen } from '@owl-loom/recipe/steps/sharpen';
import { Section } from '../fields/Rows';
import { type PropsOf, ParamChoice, ParamSlider } from '../fields/step-editor';

export function SharpenEditor(props: PropsOf<typeof sharpen>) {
  return (
    <Section>
      <ParamSlider of={props} name="radius" min={0.5} max={80} log />
      <ParamSlider of={props} name="amount" min={0} max={3} digits={3} />
      <ParamSlider of={props} name="halo" min={0} max={1} digits={3} />
      <ParamChoice
        of={props}
        name="on"
        options={[
          { value: 'luminance', label: 'Luminance', hint: 'Colours are unchanged' },
          { value: 'planes', label: 'Each channel' },
        ]}
      />
      <p className="text-[12.5px] text-hush">Judge fine detail at 1:1 (press 1).</p>
    </Section>
  );
}
