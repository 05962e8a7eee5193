import type { StarRemovalParams as StarTakingParams } from '@owl-loom/recipe/steps/star-removal';
import type { starsOnly } from '@owl-loom/recipe/steps/stars-only';
import { Section } from '../fields/Rows';
import { StarTaking } from '../fields/StarRemovalFields';
import { type EditorProps, type PropsOf, ParamChoice } from '../fields/step-editor';

export function StarsOnlyEditor(props: PropsOf<typeof starsOnly>) {
  return (
    <>
      <Section>
        <ParamChoice
          of={props}
          name="by"
          options={[
            {
              value: 'difference',
              label: 'Add',
              hint: 'Adding it to the starless image restores the original exactly',
            },
            {
              value: 'screen',
              label: 'Screen',
              hint: 'Screening it with the starless image restores the original; for stretched images',
            },
          ]}
        />
      </Section>
      {/* The rest is what every step has that takes stars out; it asks for no parameter but those. */}
      <StarTaking of={props as unknown as EditorProps<StarTakingParams>} />
    </>
  );
}
