import { count, figure } from '../../ui/numbers';
import { Choice, NumberField, SliderField } from '../../ui/controls';
import { setValue } from '../edit';
import { type EditorProps, end, numberOf, useMeasured } from './editor';
import { ForAll } from './ForAll';
import { LevelButton } from './LevelButton';
import { OtherStrand } from './OtherStrand';
import { Rows, Section } from './Rows';

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

function AlignEditor({ path, step, recipe }: EditorProps) {
  const measured = useMeasured(path) as Aligned | undefined;
  const turn = measured && turnOf(measured.matrix);
  return (
    <>
      <Section>
        <OtherStrand label="onto" path={path} name="to" value={step.to} recipe={recipe} />
        <Choice
          label="by"
          value={String(step.by ?? 'stars') as 'stars' | 'wcs'}
          options={[
            {
              value: 'stars',
              label: 'stars',
              hint: 'Patterns of stars: finds turns, mirroring, binning and partial overlap.',
            },
            { value: 'wcs', label: 'WCS', hint: 'Where the two files say that they lie on the sky.' },
          ]}
          onChange={(value) => setValue(`${path}.by`, value === 'stars' ? undefined : value)}
        />
        <Choice
          label="may"
          value={String(step.model ?? 'similarity') as 'shift' | 'similarity' | 'affine'}
          options={[
            { value: 'shift', label: 'shift', hint: 'Moves only.' },
            { value: 'similarity', label: 'turn', hint: 'Moves, turns, scales and mirrors.' },
            { value: 'affine', label: 'skew', hint: 'All of that, and leans or stretches one way.' },
          ]}
          onChange={(value) => setValue(`${path}.model`, value === 'similarity' ? undefined : value)}
        />
        <ForAll verb="Align" step={step} recipe={recipe} />
      </Section>
      {measured && turn && (
        <Section title="found">
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

function PlaceEditor({ path, step }: EditorProps) {
  return (
    <Section>
      <Choice
        label="turn"
        value={String(step.turn ?? 0) as '0' | '90' | '180' | '270'}
        options={(['0', '90', '180', '270'] as const).map((value) => ({ value, label: `${value}°` }))}
        onChange={(value) => setValue(`${path}.turn`, Number(value))}
      />
      <Choice
        label="flip"
        value={String(step.flip ?? 'none') as 'none' | 'horizontal' | 'vertical'}
        options={[
          { value: 'none', label: 'none' },
          { value: 'horizontal', label: 'left–right' },
          { value: 'vertical', label: 'up–down' },
        ]}
        onChange={(value) => setValue(`${path}.flip`, value)}
      />
      <SliderField
        label="degrees"
        value={numberOf(step.degrees) ?? 0}
        min={-45}
        max={45}
        onChange={(value) => setValue(`${path}.degrees`, value, 'degrees')}
        onCommit={end}
      />
      <SliderField
        label="size"
        value={numberOf(step.size) ?? 1}
        min={0.25}
        max={4}
        log
        onChange={(value) => setValue(`${path}.size`, value, 'size')}
        onCommit={end}
      />
      <NumberField
        label="to the right"
        value={numberOf(step.dx) ?? 0}
        onChange={(value) => setValue(`${path}.dx`, value ?? 0)}
      />
      <NumberField label="up" value={numberOf(step.dy) ?? 0} onChange={(value) => setValue(`${path}.dy`, value ?? 0)} />
      <LevelButton />
      <p className="text-[12.5px] text-hush">
        On the picture, drag the cross to move it and the end of the arm to turn it.
      </p>
    </Section>
  );
}

/** Editors of the steps that move an image. */
export const MOVE_EDITORS = { align: AlignEditor, place: PlaceEditor } as const;
