import type { levels } from '../../../../../core/steps/levels';
import { midtone } from '../../../../../core/tone/curves';
import { SliderField } from '../../../ui/SliderField';
import { end, firstOf } from '../editor';
import { Histogram } from '../Histogram';
import { inputPath } from '../inputs';
import { Section } from '../Rows';
import { editorOf } from './editor';

export const LevelsEditor = editorOf<typeof levels>(({ path, recipe, params, set: setParam }) => {
  const black = firstOf(params.black, 0);
  const mid = firstOf(params.mid, 0.5);
  const white = firstOf(params.white, 1);
  const set = {
    black: (at: number) => setParam('black', Math.min(Math.max(0, at), white - 0.01), 'moving'),
    mid: (at: number) => setParam('mid', Math.min(0.99, Math.max(0.01, at)), 'moving'),
    white: (at: number) => setParam('white', Math.max(at, black + 0.01), 'moving'),
  };
  return (
    <Section>
      <Histogram
        path={inputPath(recipe, path)}
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
        onEnd={end}
      />
      <SliderField
        label="black"
        usual={0}
        value={black}
        min={0}
        max={0.5}
        onChange={set.black}
        onCommit={end}
        digits={3}
      />
      <SliderField
        label="mid"
        usual={0.5}
        value={mid}
        min={0.02}
        max={0.98}
        onChange={set.mid}
        onCommit={end}
        digits={3}
      />
      <SliderField
        label="white"
        usual={1}
        value={white}
        min={0.2}
        max={1}
        onChange={set.white}
        onCommit={end}
        digits={3}
      />
    </Section>
  );
});
