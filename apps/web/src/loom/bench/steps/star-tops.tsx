import type { starTops } from '#recipe/steps/star-tops';
import { count } from '../../../ui/numbers';
import { useMeasured } from '../editor';
import { Rows, Section } from '../Rows';
import type { PropsOf } from './editor';

export function StarTopsEditor({ path }: PropsOf<typeof starTops>) {
  const measured = useMeasured(path) as { stars: number[]; brightest: number } | undefined;
  return (
    <Section>
      {measured ? (
        <Rows
          rows={[
            ['stars that were cut off', measured.stars.map(count).join(' · ')],
            ['the brightest, times where it was cut', measured.brightest.toFixed(1)],
          ]}
        />
      ) : (
        <p className="text-[13px] text-soft">Finding the stars on the whole image …</p>
      )}
      <p className="text-[12.5px] text-hush">
        What lies above 1 is cut again by a stretch of the planes; one by hue keeps the colour of a star up to its
        middle.
      </p>
    </Section>
  );
}
