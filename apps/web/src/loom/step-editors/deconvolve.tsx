import { deconvolve } from '@owl-loom/recipe/steps/deconvolve';
import { figure } from '../../ui/numbers';
import { useStepReport } from '../../session/measured-values';
import { Rows, Section } from '../fields/Rows';
import { type PropsOf, ParamSlider } from '../fields/step-editor';

export function DeconvolveEditor(props: PropsOf<typeof deconvolve>) {
  const measured = useStepReport(props.path, deconvolve);
  const found = measured?.fwhm.filter((v) => v > 0) ?? [];
  return (
    <Section>
      <ParamSlider of={props} name="rounds" min={1} max={60} whole />
      <ParamSlider of={props} name="strength" min={0} max={1} digits={3} />
      {measured && found.length > 0 && (
        <Rows
          rows={[
            ['stars', String(measured.stars)],
            ['Star FWHM', `${found.map((v) => figure(v, 3)).join(' ')} px`],
            ['Moffat β', measured.beta.map((v) => figure(v, 2)).join(' ')],
          ]}
        />
      )}
      {measured && found.length === 0 && (
        <p className="text-[12.5px] text-ember">
          No stars to measure the PSF: nothing is sharpened. Move this step before star removal.
        </p>
      )}
      <p className="text-[12.5px] text-hush">
        Look at the edges of stars and of bright knots at 1:1 (press 1): dark rims or a pattern in the noise mean too
        many rounds.
      </p>
    </Section>
  );
}
