import type { range } from '@owl-loom/recipe/steps/range';
import { rangeMembership } from '@owl-loom/engine/steps/range';
import { SliderField } from '../../ui/SliderField';
import { endGesture } from '../../document/edit';
import { Histogram } from '../fields/Histogram';
import { stepInputPath } from '../../document/state-paths';
import { Section } from '../fields/Rows';
import { type PropsOf, ParamSlider } from '../fields/step-editor';

export function RangeEditor(props: PropsOf<typeof range>) {
  const { path, recipe, params, set } = props;
  const { low, high, feather } = params;
  const setLow = (at: number) => set('low', Math.min(at, high), 'moving');
  const setHigh = (at: number) => set('high', Math.max(at, low), 'moving');
  return (
    <Section>
      <Histogram
        path={stepInputPath(recipe, path)}
        handles={[
          { name: 'low', at: low, onMove: setLow },
          { name: 'high', at: high, onMove: setHigh },
        ]}
        curve={(x) => rangeMembership(x, low, high, feather)}
        onEnd={endGesture}
      />
      <SliderField label="low" value={low} min={0} max={1} onChange={setLow} onCommit={endGesture} digits={3} />
      <SliderField label="high" value={high} min={0} max={1} onChange={setHigh} onCommit={endGesture} digits={3} />
      <ParamSlider of={props} name="feather" min={0} max={0.5} digits={3} />
    </Section>
  );
}
