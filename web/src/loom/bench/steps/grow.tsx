import type { grow } from '../../../../../core/steps/grow';
import { Section } from '../Rows';
import { editorOf, ParamSlider } from './editor';

export const GrowEditor = editorOf<typeof grow>((props) => (
  <Section>
    <ParamSlider of={props} name="radius" min={-40} max={40} />
  </Section>
));
