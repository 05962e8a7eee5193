import type { scale } from '../../../../../core/steps/scale';
import { Section } from '../Rows';
import { editorOf, ParamSlider } from './editor';

export const ScaleEditor = editorOf<typeof scale>((props) => (
  <Section>
    <ParamSlider of={props} name="multiply" min={0.1} max={10} log />
    <ParamSlider of={props} name="add" min={-0.1} max={0.1} />
  </Section>
));
