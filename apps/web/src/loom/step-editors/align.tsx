import type { StepReport } from '@owl-loom/recipe/steps/step-spec';
import { misalignmentOf } from '@owl-loom/algorithms/registration/misalignment';
import { align } from '@owl-loom/recipe/steps/align';
import { count, figure } from '../../ui/numbers';
import { Button } from '../../ui/controls';
import { setValue } from '../../document/edit';
import { useSession } from '../../session/session';
import { useStepReport } from '../../session/measured-values';
import { ForAll } from '../fields/AddToAllStrands';
import { OtherStrand } from '../fields/OtherStrand';
import { Rows, Section } from '../fields/Rows';
import { type PropsOf, ParamChoice } from '../fields/step-editor';

type Aligned = StepReport<typeof align>;

/** Turn in degrees and size of a matrix, as people say it. */
function turnOf([[a], [c, d]]: Aligned['matrix']): { degrees: number; size: number } {
  return { degrees: (Math.atan2(c, d) * 180) / Math.PI, size: Math.hypot(c, d) || Math.abs(a) };
}

const affineOf = ([[xx, xy, tx], [yx, yy, ty]]: Aligned['matrix']) => ({ xx, xy, tx, yx, yy, ty });

/** A number without a minus before nothing. */
const plain = (value: number, digits: number): number => Number(value.toFixed(digits)) + 0;

export function AlignEditor(props: PropsOf<typeof align>) {
  const { path, step, recipe, params } = props;
  const measured = useStepReport(path, align);
  const turn = measured && turnOf(measured.matrix);
  const { scene } = useSession();
  const failed = scene?.unfinished.failures.some((failure) => failure.path === path) ?? false;
  const off = measured && scene && misalignmentOf(affineOf(measured.matrix), scene.frame).shift;
  return (
    <>
      <Section>
        <OtherStrand label="Reference" path={path} name="to" value={params.to} recipe={recipe} />
        <ParamChoice
          of={props}
          name="by"
          options={[
            {
              value: 'stars',
              label: 'stars',
              hint: 'Matches star patterns: rotation, mirroring, binning, partial overlap',
            },
            {
              value: 'structures',
              label: 'structures',
              hint: 'Matches nebula and other structures: shift, and rotation up to 6°. For fields with few stars',
            },
            { value: 'wcs', label: 'WCS', hint: 'Uses the sky coordinates in both headers' },
          ]}
        />
        <ParamChoice
          of={props}
          name="model"
          options={[
            { value: 'shift', label: 'Shift', hint: 'Translation only' },
            { value: 'similarity', label: 'Similarity', hint: 'Shift, rotation, scale, mirror' },
            { value: 'affine', label: 'Affine', hint: 'Also shear and unequal scale' },
          ]}
        />
        <ForAll verb="Align" step={step} recipe={recipe} />
      </Section>
      {failed && (
        <Section title="Other methods">
          <div className="flex flex-wrap gap-1.5">
            {(['stars', 'structures', 'wcs'] as const)
              .filter((by) => by !== params.by)
              .map((by) => (
                <Button key={by} small onClick={() => props.set('by', by)}>
                  Align by {by === 'wcs' ? 'WCS' : by}
                </Button>
              ))}
            <Button small onClick={() => setValue(`${path}.off`, true)}>
              Leave in place
            </Button>
          </div>
        </Section>
      )}
      {measured && turn && (
        <Section title={measured.by === 'held' ? 'Pinned' : 'Result'}>
          <Rows
            rows={[
              ['Rotation', `${figure(plain(turn.degrees, 3), 3)}°${measured.mirrored ? ', mirrored' : ''}`],
              ['Scale', figure(turn.size, 5)],
              // The picture's middle, as everywhere: far from it a turn moves things as well.
              ...(off ? [['Shift', `${figure(plain(off[0], 2), 2)}, ${figure(plain(off[1], 2), 2)} px`] as const] : []),
              ...(measured.matched
                ? [['stars', `${count(measured.matched)} · ${figure(measured.rms ?? 0, 3)} px rms`] as const]
                : []),
              ...(measured.correlation !== undefined
                ? [
                    ['correlation', figure(measured.correlation, 2)] as const,
                    ['certainty', `${figure(100 * (measured.certainty ?? 0), 0)} %`] as const,
                  ]
                : []),
            ]}
          />
        </Section>
      )}
    </>
  );
}
