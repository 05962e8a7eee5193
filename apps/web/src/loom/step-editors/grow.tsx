import type { grow } from '@owl-loom/recipe/steps/grow';
import { Section } from '../fields/Rows';
import { type PropsOf, ParamSlider } from '../fields/step-editor';

export function GrowEditor(props: PropsOf<typeof grow>) {
  return (
    <Section>
      <ParamSlider of={props} name="radius" min={-40} max={40} />
    </Section>
  );
}
