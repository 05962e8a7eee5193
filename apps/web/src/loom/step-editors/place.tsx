import type { place } from '@owl-loom/recipe/steps/place';
import { Choice, NumberField } from '../../ui/controls';
import { LevelButton } from '../fields/StraightenButton';
import { Section } from '../fields/Rows';
import { type PropsOf, ParamChoice, ParamSlider } from '../fields/step-editor';

const TURNS = [0, 90, 180, 270] as const;

export function PlaceEditor(props: PropsOf<typeof place>) {
  const { params, set } = props;
  return (
    <Section>
      <Choice
        label="Rotation"
        value={String(params.turn)}
        options={TURNS.map((turn) => ({ value: String(turn), label: `${turn}°` }))}
        onChange={(value) =>
          set(
            'turn',
            TURNS.find((turn) => String(turn) === value),
          )
        }
      />
      <ParamChoice
        of={props}
        name="flip"
        options={[
          { value: 'none', label: 'none' },
          { value: 'horizontal', label: 'Horizontal' },
          { value: 'vertical', label: 'Vertical' },
        ]}
      />
      <ParamSlider of={props} name="degrees" min={-45} max={45} />
      <ParamSlider of={props} name="size" min={0.25} max={4} log />
      <NumberField label="Shift x" value={params.dx} onChange={(value) => set('dx', value)} />
      <NumberField label="Shift y" value={params.dy} onChange={(value) => set('dy', value)} />
      <LevelButton />
      <p className="text-[12.5px] text-hush">
        Drag the cross on the picture to shift, the end of the arm to rotate. Alt+arrow shifts by 1 px, with Shift by 10
        px.
      </p>
    </Section>
  );
}
