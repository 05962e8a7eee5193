import { COLOURED_RANGE, type ChromaRange } from '@owl-loom/algorithms/colour/hue-ops';
import { rangeAbove, rangeFrom } from '@owl-loom/engine/steps/above';
import { Choice } from '../../ui/controls';
import { SliderField } from '../../ui/SliderField';
import { endGesture } from '../../document/edit';
import { useMeasured } from '../../session/measured-values';
import type { EditorProps } from './step-editor';
import { Section } from './Rows';

export interface Acts {
  readonly above?: number | 'auto';
}

/** Chroma of OKLab beyond which hardly any colour lies. */
const MOST = 0.3;

/** Chroma noise of the sky, as far as it is measured for a step. */
const noiseIn = (measured: unknown): number | undefined =>
  measured !== null && typeof measured === 'object' && 'chromaNoise' in measured
    ? Number(measured.chromaNoise)
    : undefined;

/** Chroma between which a step begins to act and acts fully; the numbers of the design where nothing is measured yet. */
export function chromaRange(above: Acts['above'], usual: number, measured: unknown): ChromaRange {
  if (above !== 'auto') return rangeFrom(above ?? usual);
  const noise = noiseIn(measured);
  return noise === undefined ? COLOURED_RANGE : rangeAbove(noise);
}

/** From which chroma on a colour step acts, so that the noise of the sky stays as it is. */
export function AboveField<P extends Acts>({ of, usual }: { of: EditorProps<P>; usual: number }) {
  const { path, params, set } = of;
  const measured = useMeasured(path);
  const auto = params.above === 'auto';
  const { full } = chromaRange(params.above, usual, measured);
  const isKnown = !auto || noiseIn(measured) !== undefined;
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
          label="minimum chroma"
          value={full}
          min={0}
          max={MOST}
          digits={3}
          usual={usual}
          onChange={(value) => put(Math.max(0, value), 'moving')}
          onCommit={endGesture}
        />
      ) : (
        <p className="text-[12.5px] text-hush">measuring the chroma noise of the sky …</p>
      )}
    </Section>
  );
}
