import { starShrink } from '@owl-loom/recipe/steps/star-shrink';
import { count } from '../../ui/numbers';
import { useStepReport } from '../../session/measured-values';
import { Rows, Section } from '../fields/Rows';
import { type PropsOf, ParamSlider } from '../fields/step-editor';

export function StarShrinkEditor(props: PropsOf<typeof starShrink>) {
  const measured = useStepReport(props.path, starShrink);
  return (
    <Section>
      <ParamSlider of={props} name="amount" min={0} max={1} digits={2} />
      {measured ? (
        <Rows rows={[['stars', count(measured.stars)]]} />
      ) : (
        <p className="text-[13px] text-soft">Detecting stars on the whole image …</p>
      )}
      <p className="text-[12.5px] text-hush">Peak brightness and the background stay unchanged.</p>
    </Section>
  );
}
