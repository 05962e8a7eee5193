import type { starsOnly } from '../../../../../core/steps/stars-only';
import { Section } from '../Rows';
import { StarTaking } from '../StarTaking';
import { editorOf, ParamChoice } from './editor';

export const StarsOnlyEditor = editorOf<typeof starsOnly>((props) => (
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
    <StarTaking of={props} />
  </>
));
