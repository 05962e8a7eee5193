import type { split } from '#recipe/steps/split';
import { Section } from '../Rows';
import { type PropsOf, ParamChoice, ParamSlider } from './editor';

export function SplitEditor(props: PropsOf<typeof split>) {
  return (
    <Section>
      <ParamChoice
        of={props}
        name="keep"
        options={[
          { value: 'fine', label: 'finer' },
          { value: 'coarse', label: 'coarser' },
        ]}
      />
      <ParamSlider of={props} name="radius" label="than" min={1} max={200} log />
    </Section>
  );
}
