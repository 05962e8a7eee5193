import { starless } from '@owl-loom/recipe/steps/starless';
import type { StarRemovalParams as Taking } from '@owl-loom/recipe/steps/star-removal';
import { Pick } from '../../ui/Select';
import { useStacks } from '../../session/stacks-context';
import { Button, NumberField } from '../../ui/controls';
import { count, figure } from '../../ui/numbers';
import { useStepReport } from '../../session/measured-values';
import { Rows, Section } from './Rows';
import { type EditorProps, ParamSlider } from './step-editor';

const plural = (n: number, one: string, more: string): string => `${n} ${n === 1 ? one : more}`;

const OWN = '—';

/** Who takes the stars out: the step itself, or a file of the same without its stars that was made elsewhere. */
function Partner({ of: { params, set } }: { of: EditorProps<Taking> }) {
  const stacks = useStacks();
  const { partner } = params;
  // What says that it has no stars comes first: it is the likeliest.
  const others = [...stacks].sort((a, b) => Number(isStarless(b)) - Number(isStarless(a)));
  const names = [...new Set([...(partner === undefined ? [] : [partner]), ...others.map(({ name }) => name)])];
  return (
    <>
      <Pick
        label="Star removal by"
        value={partner ?? OWN}
        options={[{ value: OWN, label: 'This step' }, ...names.map((name) => ({ value: name, label: `File ${name}` }))]}
        onChange={(next) => set('partner', next === OWN ? undefined : next)}
      />
      {partner !== undefined && (
        <p className="text-[12.5px] text-hush">
          {partner} is used as the starless version of this strand, aligned the same way. Place steps that change pixels
          after this one.
        </p>
      )}
    </>
  );
}

const isStarless = ({ filter }: { filter: string | null }): boolean => filter?.endsWith('starless') === true;

/** What steps that take stars out are given: how boldly, how wide the gaps, and what was added and spared by hand. */
export function StarTaking({ of: props }: { of: EditorProps<Taking> }) {
  const { params, set } = props;
  const measured = useStepReport(props.path, starless);
  const { also, spare } = params;
  return (
    <>
      <Section>
        <Partner of={props} />
      </Section>
      {params.partner === undefined && (
        <Section>
          <ParamSlider of={props} name="sensitivity" min={0.3} max={3} log digits={2} />
          <ParamSlider of={props} name="grow" min={0} max={3} digits={2} />
          {measured ? (
            <Rows
              rows={[
                ['Stars removed', count(measured.stars)],
                ...(measured.left === null
                  ? []
                  : [['Residual of bright stars', `${figure(100 * measured.left, 2)} % of flux`] as const]),
              ]}
            />
          ) : (
            <p className="text-[13px] text-soft">Detecting stars on the whole image …</p>
          )}
        </Section>
      )}
      {params.partner === undefined && (
        <Section title="Manual corrections">
          {also.map((circle, i) => (
            <div
              // biome-ignore lint/suspicious/noArrayIndexKey: a circle has no name but its place in the list
              key={i}
              className="flex items-center gap-2"
            >
              <span className="figures w-32 text-[12.5px] text-soft">
                taken at {Math.round(circle.x)}, {Math.round(circle.y)}
              </span>
              <NumberField
                label="radius"
                value={circle.radius}
                min={1}
                max={400}
                digits={3}
                onChange={(radius) => set('also', also.with(i, { ...circle, radius: radius ?? circle.radius }))}
                className="[&_input]:w-16"
              />
              <Button small look="quiet" onClick={() => set('also', also.toSpliced(i, 1))}>
                Remove
              </Button>
            </div>
          ))}
          {spare.length > 0 && (
            <div className="flex items-center gap-2">
              <span className="text-[12.5px] text-soft">{plural(spare.length, 'star stays', 'stars stay')}</span>
              <Button small look="quiet" onClick={() => set('spare', [])}>
                Remove them too
              </Button>
            </div>
          )}
          <p className="text-[12.5px] text-hush">
            Double-click a star to keep it, or elsewhere to remove a circle; double-click again to undo.
          </p>
        </Section>
      )}
    </>
  );
}
