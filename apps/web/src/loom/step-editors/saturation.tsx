import type { saturation } from '@owl-loom/recipe/steps/saturation';
import { AboveField } from '../fields/AboveField';
import { Section } from '../fields/Rows';
import { type PropsOf, ParamSlider } from '../fields/step-editor';

export function SaturationEditor(props: PropsOf<typeof saturation>) {
  return (
    <>
      <Section>
        <ParamSlider of={props} name="amount" min={-1} max={1} digits={3} />
        <ParamSlider of={props} name="shadows" min={0} max={1} digits={3} />
        <p className="text-[12.5px] text-hush">
          {props.params.shadows < 1
            ? 'Dark sky is changed less, so colour noise stays low.'
            : 'Dark sky is changed fully; lower “shadows” to keep its colour noise down.'}
        </p>
      </Section>
      <AboveField of={props} usual={0} />
    </>
  );
}
