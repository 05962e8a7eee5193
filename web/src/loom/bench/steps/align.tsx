import type { align } from '../../../../../core/steps/align';
import { count, figure } from '../../../ui/numbers';
import { useMeasured } from '../editor';
import { ForAll } from '../ForAll';
import { OtherStrand } from '../OtherStrand';
import { Rows, Section } from '../Rows';
import { type PropsOf, ParamChoice } from './editor';

interface Aligned {
  readonly by: string;
  readonly matrix: readonly (readonly number[])[];
  readonly rms?: number;
  readonly matched?: number;
  readonly mirrored?: boolean;
}

/** Turn in degrees and size of a matrix, as people say it. */
function turnOf([[a], [c, d]]: Aligned['matrix']): { degrees: number; size: number } {
  return { degrees: (Math.atan2(c, d) * 180) / Math.PI, size: Math.hypot(c, d) || Math.abs(a) };
}

/** A number without a minus before nothing. */
const plain = (value: number, digits: number): number => Number(value.toFixed(digits)) + 0;

export function AlignEditor(props: PropsOf<typeof align>) {
  const { path, step, recipe, params } = props;
  const measured = useMeasured(path) as Aligned | undefined;
  const turn = measured && turnOf(measured.matrix);
  return (
    <>
      <Section>
        <OtherStrand label="onto" path={path} name="to" value={params.to} recipe={recipe} />
        <ParamChoice
          of={props}
          name="by"
          options={[
            {
              value: 'stars',
              label: 'stars',
              hint: 'Patterns of stars: finds turns, mirroring, binning and partial overlap.',
            },
            { value: 'wcs', label: 'WCS', hint: 'Where the two files say that they lie on the sky.' },
          ]}
        />
        <ParamChoice
          of={props}
          name="model"
          label="may"
          options={[
            { value: 'shift', label: 'shift', hint: 'Moves only.' },
            { value: 'similarity', label: 'turn', hint: 'Moves, turns, scales and mirrors.' },
            { value: 'affine', label: 'skew', hint: 'All of that, and leans or stretches one way.' },
          ]}
        />
        <ForAll verb="Align" step={step} recipe={recipe} />
      </Section>
      {measured && turn && (
        <Section title={measured.by === 'held' ? 'held' : 'found'}>
          <Rows
            rows={[
              ['turned', `${figure(plain(turn.degrees, 3), 3)}°${measured.mirrored ? ', mirrored' : ''}`],
              ['size', figure(turn.size, 5)],
              [
                'moved',
                `${figure(plain(measured.matrix[0][2], 2), 2)}, ${figure(plain(measured.matrix[1][2], 2), 2)} px`,
              ],
              ...(measured.matched
                ? [['stars', `${count(measured.matched)} · ${figure(measured.rms ?? 0, 3)} px apart`] as const]
                : []),
            ]}
          />
        </Section>
      )}
    </>
  );
}
