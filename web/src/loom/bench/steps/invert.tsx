import type { invert } from '../../../../../core/steps/invert';
import { Section } from '../Rows';
import { editorOf } from './editor';

export const InvertEditor = editorOf<typeof invert>(() => (
  <Section>
    <p className="text-[12.5px] text-hush">There is nothing to set: each value becomes one less itself.</p>
  </Section>
));
