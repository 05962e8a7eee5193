import { COLOURED, GREY } from '../../../../core/colour/hue-share';
import { Choice } from '../../ui/controls';
import { SliderField } from '../../ui/SliderField';
import { end, useMeasured } from './editor';
import type { EditorProps } from './steps/editor';
import { Section } from './Rows';

export interface Acts {
  readonly above?: number | 'auto';
}

/** Chroma of OKLab beyond which hardly any colour lies. */
const MOST = 0.3;

/** What is measured for a step that acts from the noise of the sky on. */
export const measuredAbove = (measured: unknown): { above: number; chromaNoise: number } | undefined =>
  measured !== null && typeof measured === 'object' && 'chromaNoise' in measured && 'above' in measured
    ? (measured as { above: number; chromaNoise: number })
    : undefined;

/** Chroma between which a step begins to act and acts fully; the numbers of the design where nothing is measured yet. */
export function chromaRange(above: Acts['above'], usual: number, measured: unknown): { grey: number; full: number } {
  const found = measuredAbove(measured);
  if (above === 'auto')
    return found
      ? { grey: Math.max(GREY * found.above, 2 * found.chromaNoise), full: found.above }
      : { grey: GREY * COLOURED, full: COLOURED };
  const full = above ?? usual;
  return { grey: GREY * full, full };
}

/** From which chroma on a colour step acts, so that the noise of the sky stays as it is. */
export function AboveField<P extends Acts>({ of, usual }: { of: EditorProps<P>; usual: number }) {
  const { path, params, set } = of;
  const measured = useMeasured(path);
  const auto = params.above === 'auto';
  const { full } = chromaRange(params.above, usual, measured);
  const isKnown = !auto || measuredAbove(measured) !== undefined;
  const put = (value: Acts['above'], moving?: 'moving'): void => set('above', value as P['above' & keyof P], moving);
  return (
    <Section title="acts on">
      <Choice
        label="from chroma"
        value={auto ? 'auto' : 'manual'}
        options={[
          {
            value: 'auto',
            label: 'above noise',
            hint: 'Five times the chroma noise of the sky background, at least 0.04: the sky keeps its median and its grain.',
          },
          { value: 'manual', label: 'manual' },
        ]}
        onChange={(value) => put(value === 'auto' ? 'auto' : full)}
      />
      {isKnown ? (
        <SliderField
          label="chroma"
          value={full}
          min={0}
          max={MOST}
          digits={3}
          usual={usual}
          onChange={(value) => put(Math.max(0, value), 'moving')}
          onCommit={end}
        />
      ) : (
        <p className="text-[12.5px] text-hush">measuring the chroma noise of the sky …</p>
      )}
    </Section>
  );
}
