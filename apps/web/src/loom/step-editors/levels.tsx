import type { levels } from '@owl-loom/recipe/steps/levels';
import { midtone } from '@owl-loom/algorithms/tone/curves';
import { SliderField } from '../../ui/SliderField';
import { endGesture } from '../../document/edit';
import { firstOf } from '../../session/measured-values';
import { Histogram } from '../fields/Histogram';
import { stepInputPath } from '../../document/state-paths';
import { Section } from '../fields/Rows';
import type { PropsOf } from '../fields/step-editor';

const SLIDERS = [
  { name: 'black', usual: 0, min: 0, max: 0.5 },
  { name: 'mid', usual: 0.5, min: 0.02, max: 0.98 },
  { name: 'white', usual: 1, min: 0.2, max: 1 },
] as const;

export function LevelsEditor({ path, recipe, params, set: setParam }: PropsOf<typeof levels>) {
  const [black, mid, white] = [firstOf(params.black, 0), firstOf(params.mid, 0.5), firstOf(params.white, 1)];
  const at = { black, mid, white };
  const set = {
    black: (at: number) => setParam('black', Math.min(Math.max(0, at), white - 0.01), 'moving'),
    mid: (at: number) => setParam('mid', Math.min(0.99, Math.max(0.01, at)), 'moving'),
    white: (at: number) => setParam('white', Math.max(at, black + 0.01), 'moving'),
  };
  return (
    <Section>
      <Histogram
        path={stepInputPath(recipe, path)}
        handles={[
          { name: 'black', at: black, onMove: set.black },
          {
            name: 'mid',
            at: black + mid * (white - black),
            onMove: (at) => set.mid((at - black) / (white - black)),
          },
          { name: 'white', at: white, onMove: set.white },
        ]}
        curve={(x) => midtone((x - black) / (white - black), mid)}
        onEnd={endGesture}
      />
      {SLIDERS.map(({ name, usual, min, max }) => (
        <SliderField
          key={name}
          label={name}
          usual={usual}
          value={at[name]}
          min={min}
          max={max}
          onChange={set[name]}
          onCommit={endGesture}
          digits={3}
        />
      ))}
      {black === 0 && mid === 0.5 && white === 1 && (
        <p className="text-[12.5px] text-hush">No change yet. Move a handle to begin.</p>
      )}
    </Section>
  );
}
