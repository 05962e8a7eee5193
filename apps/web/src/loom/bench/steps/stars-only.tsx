import type { StarRemovalParams as StarTakingParams } from '#recipe/steps/star-removal';
import type { starsOnly } from '#recipe/steps/stars-only';
import { Section } from '../Rows';
import { StarTaking } from '../StarRemovalFields';
import { type EditorProps, type PropsOf, ParamChoice } from './editor';

export function StarsOnlyEditor(props: PropsOf<typeof starsOnly>) {
  return (
    <>
      <Section>
        <ParamChoice
          of={props}
          name="by"
          label="given back by"
          options={[
            {
              value: 'difference',
              label: 'adding',
              hint: 'Laid on the image without stars by add, it is the image again.',
            },
            {
              value: 'screen',
              label: 'screening',
              hint: 'Laid on the image without stars by screen, it is the image again; for stretched images.',
            },
          ]}
        />
      </Section>
      {/* The rest is what every step has that takes stars out; it asks for no parameter but those. */}
      <StarTaking of={props as unknown as EditorProps<StarTakingParams>} />
    </>
  );
}
