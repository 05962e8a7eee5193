import type { blur } from '../../../../../core/steps/blur';
import { Section } from '../Rows';
import { editorOf, ParamSlider } from './editor';

export const BlurEditor = editorOf<typeof blur>((props) => (
  <Section>
    <ParamSlider of={props} name="radius" min={0.3} max={120} log />
  </Section>
));
