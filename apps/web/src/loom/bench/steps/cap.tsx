import type { cap } from '#recipe/steps/cap';
import { Section } from '../Rows';
import { type PropsOf, ParamChoice, ParamSlider } from './editor';

export function CapEditor(props: PropsOf<typeof cap>) {
  return (
    <Section>
      <ParamChoice
        of={props}
        name="colour"
        options={[
          { value: 'green', label: 'green' },
          { value: 'magenta', label: 'magenta', hint: 'Where green is the least: rims of stars in line filters.' },
        ]}
      />
      <ParamChoice
        of={props}
        name="against"
        label="no more than"
        options={[
          { value: 'mean', label: 'their mean', hint: 'The mean of red and blue.' },
          { value: 'greater', label: 'the greater', hint: 'Gentler: teal and gold stay.' },
        ]}
      />
      <ParamSlider of={props} name="strength" min={0} max={1} digits={3} />
    </Section>
  );
}
