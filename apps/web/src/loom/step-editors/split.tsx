import type { split } from '@owl-loom/recipe/steps/split';
import { Section } from '../fields/Rows';
import { type PropsOf, ParamChoice, ParamSlider } from '../fields/step-editor';

export function SplitEditor(props: PropsOf<typeof split>) {
  return (
    <Section>
      <ParamChoice
        of={props}
        name="keep"
        options={[
          { value: 'fine', label: 'Fine detail' },
          { value: 'coarse', label: 'Coarse structure' },
        ]}
      />
      <ParamSlider of={props} name="radius" min={1} max={200} log />
    </Section>
  );
}
