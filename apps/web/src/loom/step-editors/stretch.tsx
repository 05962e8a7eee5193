import { stretch } from '@owl-loom/recipe/steps/stretch';
import { curveOf } from '@owl-loom/algorithms/tone/curves';
import { Choice, NumberField } from '../../ui/controls';
import { SliderField } from '../../ui/SliderField';
import { useSession } from '../../session/session';
import { endGesture } from '../../document/edit';
import { firstOf, useStepReport } from '../../session/measured-values';
import { Histogram } from '../fields/Histogram';
import { stepInputPath } from '../../document/state-paths';
import { Section } from '../fields/Rows';
import { type PropsOf, ParamChoice, ParamSlider } from '../fields/step-editor';

export function StretchEditor(props: PropsOf<typeof stretch>) {
  const { path, recipe, params, setAll } = props;
  const { scene } = useSession();
  const measured = useStepReport(path, stretch);
  const input = stepInputPath(recipe, path);
  const colour = scene?.paths[input]?.planes === 3;
  const { curve } = params;
  const given = params.black !== undefined || params.white !== undefined || params.strength !== undefined;
  const auto = params.auto ?? !given;
  const black = firstOf(measured?.black, 0);
  const white = firstOf(measured?.white, 1);
  const strength = firstOf(measured?.strength, 100);
  // Touching a measured number takes all three over, as they stand, so that nothing jumps.
  const taken = {
    auto: undefined,
    black: params.black ?? measured?.black ?? 0,
    white: params.white ?? measured?.white ?? 1,
    strength: params.strength ?? measured?.strength ?? 100,
  };
  const set = (key: 'black' | 'white' | 'strength', value: number): void => setAll({ ...taken, [key]: value }, key);
  const f = curveOf(curve, Math.max(1e-6, strength));
  return (
    <>
      <Section>
        <Histogram
          path={input}
          handles={[{ name: 'black', at: black, onMove: (at) => set('black', Math.min(at, white - 1e-4)) }]}
          curve={(x) => f(Math.min(1, Math.max(0, (x - black) / (white - black))))}
          onEnd={endGesture}
        />
        <Choice
          label="curve"
          value={curve}
          options={(['asinh', 'midtone', 'power', 'log'] as const).map((value) => ({ value, label: value }))}
          onChange={(value) => setAll({ curve: value, strength: undefined, ...(auto ? {} : { auto: true }) })}
        />
        <Choice
          label="Mode"
          value={auto ? 'auto' : 'hand'}
          options={[
            {
              value: 'auto',
              label: 'auto',
              hint: 'Measured from the sky and its noise; follows every change before it',
            },
            { value: 'hand', label: 'Manual' },
          ]}
          onChange={(value) =>
            setAll(
              value === 'auto' ? { auto: undefined, black: undefined, white: undefined, strength: undefined } : taken,
            )
          }
        />
        {colour && (
          <ParamChoice
            of={props}
            name="colour"
            options={[
              { value: 'linked', label: 'linked', hint: 'One curve for all channels' },
              { value: 'unlinked', label: 'unlinked', hint: 'One curve per channel: neutralises a cast' },
              { value: 'hue', label: 'hue', hint: 'Hue-preserving: bright stars keep their colour' },
            ]}
          />
        )}
      </Section>
      <Section>
        {auto && <ParamSlider of={props} name="target" min={0.02} max={0.4} digits={3} />}
        <SliderField
          label="strength"
          value={strength}
          {...(curve === 'asinh' || curve === 'log'
            ? { min: 0.1, max: 20000, log: true }
            : { min: 0.001, max: curve === 'midtone' ? 0.999 : 2 })}
          onChange={(value) => set('strength', value)}
          onCommit={endGesture}
        />
        {(['black', 'white'] as const).map((key) => (
          <NumberField
            key={key}
            label={key}
            value={key === 'black' ? black : white}
            onChange={(value) => value !== undefined && set(key, value)}
            onCommit={endGesture}
          />
        ))}
      </Section>
    </>
  );
}
