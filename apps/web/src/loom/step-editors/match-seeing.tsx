import { matchSeeing } from '@owl-loom/recipe/steps/match-seeing';
import { figure } from '../../ui/numbers';
import { useStepReport } from '../../session/measured-values';
import { OtherStrand } from '../fields/OtherStrand';
import { Rows, Section } from '../fields/Rows';
import type { PropsOf } from '../fields/step-editor';

export function MatchSeeingEditor({ path, params, recipe }: PropsOf<typeof matchSeeing>) {
  const measured = useStepReport(path, matchSeeing);
  return (
    <Section>
      <OtherStrand label="Reference" path={path} name="to" value={params.to} recipe={recipe} />
      {measured && (
        <Rows
          rows={[
            ['FWHM here', `${figure(measured.fwhm, 2)} px`],
            ['FWHM of reference', `${figure(measured.to, 2)} px`],
            ['Blur σ', measured.sigma > 0 ? `${figure(measured.sigma, 2)} px` : 'none: stars are already as wide'],
          ]}
        />
      )}
    </Section>
  );
}
