import { paramLabel } from '@owl-loom/recipe/steps/labels';
import type { balance } from '@owl-loom/recipe/steps/balance';
import { SliderField } from '../../ui/SliderField';
import { endGesture } from '../../document/edit';
import { AboveField } from '../fields/AboveField';
import { Section } from '../fields/Rows';
import { type PropsOf, ParamSwitch } from '../fields/step-editor';
import { withEntry } from '@owl-loom/base/triple';

const RANGES = ['shadows', 'mids', 'lights'] as const;
const PLANES = ['red', 'green', 'blue'] as const;
/** How far a slider goes either way; one that was typed goes as far as it says. */
const MOST = 0.2;

export function BalanceEditor(props: PropsOf<typeof balance>) {
  return (
    <>
      {RANGES.map((range) => (
        <Section key={range} title={paramLabel('balance', range)}>
          {PLANES.map((plane, p) => (
            <SliderField
              key={plane}
              label={plane}
              value={props.params[range][p]}
              min={-Math.max(MOST, Math.abs(props.params[range][p]))}
              max={Math.max(MOST, Math.abs(props.params[range][p]))}
              usual={0}
              digits={3}
              onChange={(value) => props.set(range, withEntry(props.params[range], p, value), 'moving')}
              onCommit={endGesture}
            />
          ))}
        </Section>
      ))}
      <Section>
        <ParamSwitch
          of={props}
          name="keepLuminance"
          no="Changes"
          yes="Preserved"
          hint="Keeps luminance while colours shift"
        />
      </Section>
      <AboveField of={props} usual={0} />
    </>
  );
}
