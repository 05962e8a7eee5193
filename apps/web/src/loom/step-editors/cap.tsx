import type { cap } from '@owl-loom/recipe/steps/cap';
import { Section } from '../fields/Rows';
import { type PropsOf, ParamChoice, ParamSlider } from '../fields/step-editor';

export function CapEditor(props: PropsOf<typeof cap>) {
  return (
    <Section>
      <ParamChoice
        of={props}
        name="colour"
        options={[
          { value: 'green', label: 'green' },
          { value: 'magenta', label: 'magenta', hint: 'For magenta star halos in narrowband images' },
        ]}
      />
      <ParamChoice
        of={props}
        name="against"
        options={[
          { value: 'mean', label: 'Mean of red and blue', hint: 'Stricter' },
          { value: 'greater', label: 'Larger of red and blue', hint: 'Gentler: teal and gold stay' },
        ]}
      />
      <ParamSlider of={props} name="strength" min={0} max={1} digits={3} />
    </Section>
  );
}
