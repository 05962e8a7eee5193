import { unmix } from '@owl-loom/recipe/steps/unmix';
import type { Recipe } from '@owl-loom/recipe/schema';
import { strandPath } from '@owl-loom/recipe/walk';
import { recipeChanged } from '../../store/draft';
import { store } from '../../store/store';
import { Button, Choice, NumberField } from '../../ui/controls';
import { withCameraLines } from '../../document/camera-lines';
import { figure } from '../../ui/numbers';
import { endGesture } from '../../document/edit';
import { useStepReport } from '../../session/measured-values';
import { Rows, Section } from '../fields/Rows';
import type { PropsOf } from '../fields/step-editor';
import { type Triple, withEntry } from '@owl-loom/base/triple';

const PLANES = ['red', 'green', 'blue'] as const;
/** Starlight, which a camera sees about alike in all three. */
const ALIKE: Triple = [1, 1, 1];

function makeLines(recipe: Recipe, path: string): void {
  const made = withCameraLines(recipe, path);
  if (made) store.dispatch(recipeChanged({ recipe: made.recipe, chosen: strandPath(made.recipe, made.lines[0]) }));
}

/** Grid of what each plane of the camera sees of each light. */
export function UnmixEditor({ path, recipe, params, set }: PropsOf<typeof unmix>) {
  const measured = useStepReport(path, unmix);
  const lights: readonly (readonly ['first' | 'second' | 'third', string, Triple])[] = [
    ['first', 'hydrogen', params.first],
    ['second', 'oxygen', params.second],
    ...(params.third ? ([['third', 'third component', params.third]] as const) : []),
  ];
  return (
    <>
      <Section title="Camera response per line">
        <div className="grid grid-cols-[1fr_auto_auto_auto] items-center gap-x-2 gap-y-1.5">
          <span />
          {PLANES.map((plane) => (
            <span key={plane} className="text-right text-[12px] text-hush">
              {plane}
            </span>
          ))}
          {lights.map(([light, name, numbers]) => [
            <span key={light} className="text-soft">
              {name}
            </span>,
            ...PLANES.map((plane, p) => (
              <NumberField
                key={`${light} ${plane}`}
                label={`${name} in ${plane}`}
                hideLabel
                value={numbers[p]}
                min={0}
                onChange={(value) => value !== undefined && set(light, withEntry(numbers, p, value), 'moving')}
                onCommit={endGesture}
                className="[&_input]:w-16"
              />
            )),
          ])}
        </div>
        <Choice
          label="Blue channel"
          value={params.third ? 'third' : 'rest'}
          options={[
            {
              value: 'rest',
              label: 'Residual',
              hint: 'Light of neither line: stars and broadband glow',
            },
            {
              value: 'third',
              label: 'Third component',
              hint: 'Enter the camera response; for starlight it is about the same in all channels.',
            },
          ]}
          onChange={(value) => set('third', value === 'third' ? ALIKE : undefined)}
        />
      </Section>
      <Section>
        {measured && (
          <Rows
            rows={lights.map(([, name], k) => [name, measured.rows[k].map((v) => figure(v, 3)).join('  ')] as const)}
          />
        )}
        <p className="text-[12.5px] text-hush">
          Red becomes hydrogen, green oxygen. If one line shows through in the other, raise its response in that
          channel.
        </p>
        <Button small onClick={() => makeLines(recipe, path)}>
          Make strands of the lines
        </Button>
        <p className="text-[12.5px] text-hush">Adds Ha and OIII, the original camera colour, and its sum.</p>
      </Section>
    </>
  );
}
