import { starTops } from '@owl-loom/recipe/steps/star-tops';
import { count } from '../../ui/numbers';
import { useStepReport } from '../../session/measured-values';
import { Rows, Section } from '../fields/Rows';
import type { PropsOf } from '../fields/step-editor';

export function StarTopsEditor({ path }: PropsOf<typeof starTops>) {
  const measured = useStepReport(path, starTops);
  return (
    <Section>
      {measured ? (
        <Rows
          rows={[
            ['Clipped stars', measured.stars.map(count).join(' · ')],
            ['Brightest, × clipping level', measured.brightest.toFixed(1)],
          ]}
        />
      ) : (
        <p className="text-[13px] text-soft">Detecting stars on the whole image …</p>
      )}
      <p className="text-[12.5px] text-hush">
        A per-channel stretch clips values above 1 again; the stretch mode “hue” keeps star colour to the core.
      </p>
    </Section>
  );
}
