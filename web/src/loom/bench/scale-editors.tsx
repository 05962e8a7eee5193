import { Choice, SliderField } from '../../ui/controls';
import { figure } from '../../ui/numbers';
import { setValue } from '../edit';
import { type EditorProps, end, numberOf, useMeasured } from './editor';
import { OtherStrand } from './OtherStrand';
import { Rows, Section } from './Rows';

function BlurEditor({ path, step }: EditorProps) {
  return (
    <Section>
      <SliderField
        label="radius"
        value={numberOf(step.radius) ?? 2}
        min={0.3}
        max={120}
        log
        onChange={(value) => setValue(`${path}.radius`, value, 'radius')}
        onCommit={end}
      />
    </Section>
  );
}

function SplitEditor({ path, step }: EditorProps) {
  return (
    <Section>
      <Choice
        label="keep"
        value={String(step.keep ?? 'fine') as 'fine' | 'coarse'}
        options={[
          { value: 'fine', label: 'finer' },
          { value: 'coarse', label: 'coarser' },
        ]}
        onChange={(value) => setValue(`${path}.keep`, value)}
      />
      <SliderField
        label="than"
        value={numberOf(step.radius) ?? 20}
        min={1}
        max={200}
        log
        onChange={(value) => setValue(`${path}.radius`, value, 'radius')}
        onCommit={end}
      />
    </Section>
  );
}

const SIZES = [2, 4, 8, 16, 32, 64, 128, 256, 512] as const;

/** Sizes as a row of cells: the first and the last that are kept are pressed. */
function StructuresEditor({ path, step }: EditorProps) {
  const from = numberOf(step.from) ?? 2;
  const to = numberOf(step.to) ?? 128;
  const nearest = (value: number) =>
    SIZES.reduce(
      (best, size) => (Math.abs(Math.log2(size / value)) < Math.abs(Math.log2(best / value)) ? size : best),
      SIZES[0] as number,
    );
  const [low, high] = [nearest(from), nearest(to)];
  const press = (size: number): void => {
    const next =
      size < low
        ? { from: size, to: high }
        : size > high
          ? { from: low, to: size }
          : size - low < high - size
            ? { from: size, to: high }
            : { from: low, to: size };
    setValue(path, { ...step, ...next });
  };
  return (
    <Section title="sizes kept, in pixels">
      <div className="flex rounded-md border border-edge bg-pit p-0.5">
        {SIZES.map((size) => (
          <button
            key={size}
            type="button"
            aria-pressed={size >= low && size <= high}
            onClick={() => press(size)}
            className={`figures h-7 grow rounded-[5px] text-[11.5px] ${size >= low && size <= high ? 'bg-rim text-text' : 'text-hush hover:text-text'}`}
          >
            {size}
          </button>
        ))}
      </div>
      <Choice
        label="wider than that"
        value={step.residual ? 'kept' : 'gone'}
        options={[
          { value: 'gone', label: 'gone' },
          { value: 'kept', label: 'kept' },
        ]}
        onChange={(value) => setValue(`${path}.residual`, value === 'kept' ? true : undefined)}
      />
    </Section>
  );
}

function DenoiseEditor({ path, step }: EditorProps) {
  const measured = useMeasured(path) as { noise: number[] } | undefined;
  const colour = measured?.noise.length === 3;
  return (
    <Section>
      <SliderField
        label="strength"
        value={numberOf(step.strength) ?? 1}
        min={0}
        max={3}
        onChange={(value) => setValue(`${path}.strength`, value, 'strength')}
        onCommit={end}
        digits={3}
      />
      {colour && (
        <SliderField
          label="colour"
          value={numberOf(step.chroma) ?? 1}
          min={0}
          max={4}
          onChange={(value) => setValue(`${path}.chroma`, value, 'chroma')}
          onCommit={end}
          digits={3}
        />
      )}
      <SliderField
        label="scales"
        value={numberOf(step.scales) ?? 4}
        min={1}
        max={8}
        step={1}
        onChange={(value) => setValue(`${path}.scales`, Math.round(value), 'scales')}
        onCommit={end}
        digits={1}
      />
      {measured && (
        <Rows
          rows={[
            [colour ? 'noise of brightness' : 'noise found', figure(measured.noise[0], 5)],
            ...(colour
              ? [
                  [
                    'noise of colour',
                    measured.noise
                      .slice(1)
                      .map((v) => figure(v, 5))
                      .join(' '),
                  ] as const,
                ]
              : []),
          ]}
        />
      )}
      <p className="text-[12.5px] text-hush">The finest scales are seen at 1:1; press 1.</p>
    </Section>
  );
}

function MatchSeeingEditor({ path, step, recipe }: EditorProps) {
  const measured = useMeasured(path) as { fwhm: number; to: number; sigma: number } | undefined;
  return (
    <Section>
      <OtherStrand label="to" path={path} name="to" value={step.to} recipe={recipe} />
      {measured && (
        <Rows
          rows={[
            ['star width here', `${figure(measured.fwhm, 2)} px`],
            ['there', `${figure(measured.to, 2)} px`],
            ['softened by', measured.sigma > 0 ? `${figure(measured.sigma, 2)} px` : 'nothing: it is as wide already'],
          ]}
        />
      )}
    </Section>
  );
}

/** Editors of the steps that look at the pixels around. */
export const SCALE_EDITORS = {
  blur: BlurEditor,
  split: SplitEditor,
  structures: StructuresEditor,
  denoise: DenoiseEditor,
  'match-seeing': MatchSeeingEditor,
} as const;
