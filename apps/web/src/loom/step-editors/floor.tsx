import type { floor } from '@owl-loom/recipe/steps/floor';
import { endGesture } from '../../document/edit';
import { Histogram } from '../fields/Histogram';
import { stepInputPath } from '../../document/state-paths';
import { Section } from '../fields/Rows';
import { type PropsOf, ParamSlider } from '../fields/step-editor';

export function FloorEditor(props: PropsOf<typeof floor>) {
  const { path, recipe, params, set } = props;
  return (
    <Section>
      <Histogram
        path={stepInputPath(recipe, path)}
        handles={[{ name: 'floor', at: params.level, onMove: (at) => set('level', at, 'moving') }]}
        curve={(x) => Math.max(x, params.level)}
        onEnd={endGesture}
      />
      <ParamSlider of={props} name="level" min={0} max={0.3} digits={3} />
    </Section>
  );
}
