import type { floor } from '../../../../../core/steps/floor';
import { Section } from '../Rows';
import { editorOf, ParamSlider } from './editor';

export const FloorEditor = editorOf<typeof floor>((props) => (
  <Section>
    <ParamSlider of={props} name="level" min={0} max={0.3} digits={3} />
  </Section>
));
