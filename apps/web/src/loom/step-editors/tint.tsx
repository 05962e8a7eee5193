import type { tint } from '@owl-loom/recipe/steps/tint';
import { ColourField } from '../../ui/ColourField';
import { endGesture } from '../../document/edit';
import { Section } from '../fields/Rows';
import type { PropsOf } from '../fields/step-editor';

export function TintEditor({ params, set }: PropsOf<typeof tint>) {
  return (
    <Section>
      <ColourField value={params.colour} onChange={(colour) => set('colour', colour, 'moving')} onEnd={endGesture} />
    </Section>
  );
}
