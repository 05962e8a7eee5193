import { Choice, NumberField } from '../../ui/controls';
import { figure } from '../../ui/numbers';
import { setValue } from '../edit';
import { type EditorProps, end, useMeasured } from './editor';
import { Rows, Section } from './Rows';

const COMMON = { first: [1, 0.1, 0.03], second: [0.05, 1, 0.75], third: [1, 1, 1] } as const;
const PLANES = ['red', 'green', 'blue'] as const;

/** Grid of what each plane of the camera sees of each light. */
export function UnmixEditor({ path, step }: EditorProps) {
  const measured = useMeasured(path) as { rows: number[][] } | undefined;
  const numbersOf = (light: keyof typeof COMMON): number[] =>
    Array.isArray(step[light]) ? (step[light] as number[]) : [...COMMON[light]];
  const given = Array.isArray(step.third);
  const lights: readonly (readonly [keyof typeof COMMON, string])[] = [
    ['first', 'hydrogen'],
    ['second', 'oxygen'],
    ...(given ? ([['third', 'third light']] as const) : []),
  ];
  return (
    <>
      <Section title="what the camera sees of each light">
        <div className="grid grid-cols-[1fr_auto_auto_auto] items-center gap-x-2 gap-y-1.5">
          <span />
          {PLANES.map((plane) => (
            <span key={plane} className="text-right text-[12px] text-hush">
              {plane}
            </span>
          ))}
          {lights.map(([light, name]) => [
            <span key={light} className="text-soft">
              {name}
            </span>,
            ...PLANES.map((plane, p) => (
              <NumberField
                key={`${light} ${plane}`}
                label={`${name} in ${plane}`}
                hideLabel
                value={numbersOf(light)[p]}
                min={0}
                onChange={(value) =>
                  value !== undefined &&
                  setValue(
                    `${path}.${light}`,
                    numbersOf(light).map((v, q) => (q === p ? value : v)),
                    light,
                  )
                }
                onCommit={end}
                className="[&_input]:w-16"
              />
            )),
          ])}
        </div>
        <Choice
          label="blue holds"
          value={given ? 'third' : 'rest'}
          options={[
            {
              value: 'rest',
              label: 'what is left',
              hint: 'Light that neither line explains: stars, and glow of other colours.',
            },
            {
              value: 'third',
              label: 'a third light',
              hint: 'Give what the camera sees of it; starlight is about the same in all three.',
            },
          ]}
          onChange={(value) => setValue(`${path}.third`, value === 'third' ? [...COMMON.third] : undefined)}
        />
      </Section>
      <Section>
        {measured && (
          <Rows
            rows={lights.map(([, name], k) => [name, measured.rows[k].map((v) => figure(v, 3)).join('  ')] as const)}
          />
        )}
        <p className="text-[12.5px] text-hush">
          Red becomes hydrogen, green oxygen. In a formula they are {'<strand>'}.red and .green. Where one line shows
          through in the other, raise its share in that plane.
        </p>
      </Section>
    </>
  );
}
