import type { blur } from '@owl-loom/recipe/steps/blur';
import { Section } from '../fields/Rows';
import { type PropsOf, ParamSlider } from '../fields/step-editor';

export function BlurEditor(props: PropsOf<typeof blur>) {
  return (
    <Section>
      <ParamSlider of={props} name="radius" min={0.3} max={120} log />
    </Section>
  );
}
