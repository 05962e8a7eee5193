import type { sharpen } from '#recipe/steps/sharpen';
import { Section } from '../Rows';
import { type PropsOf, ParamChoice, ParamSlider } from './editor';

export function SharpenEditor(props: PropsOf<typeof sharpen>) {
  return (
    <Section>
      <ParamSlider of={props} name="radius" min={0.5} max={80} log />
      <ParamSlider of={props} name="amount" min={0} max={3} digits={3} />
      <ParamSlider of={props} name="halo" label="hold rings back" min={0} max={1} digits={3} />
      <ParamChoice
        of={props}
        name="on"
        options={[
          { value: 'luminance', label: 'brightness', hint: 'Colours stay as they are.' },
          { value: 'planes', label: 'each colour' },
        ]}
      />
      <p className="text-[12.5px] text-hush">Fine detail is seen at 1:1; press 1.</p>
    </Section>
  );
}
