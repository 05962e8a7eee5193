import type { scale } from '@owl-loom/recipe/steps/scale';
import { Section } from '../fields/Rows';
import { type PropsOf, ParamSlider } from '../fields/step-editor';

export function ScaleEditor(props: PropsOf<typeof scale>) {
  return (
    <Section>
      <ParamSlider of={props} name="multiply" min={0.1} max={10} log />
      <ParamSlider of={props} name="add" min={-0.1} max={0.1} />
    </Section>
  );
}
