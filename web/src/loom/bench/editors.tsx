import type { Figure } from '../../../../core/figures/index';
import type { LinearFit } from '../../../../core/fit/linear';
import type { Step } from '../../../../core/recipe/schema';
import { type StretchCurve, curveOf, midtone } from '../../../../core/tone/curves';
import { Choice, NumberField, SliderField } from '../../ui/controls';
import { count, figure } from '../../ui/numbers';
import { setValue } from '../edit';
import { useSession } from '../session';
import { strandColour } from '../strands';
import { type EditorProps, end, firstOf, numberOf, useMeasured } from './editor';
import { ForAll } from './ForAll';
import { Histogram } from './Histogram';
import { LINEAR_EDITORS } from './linear-editors';
import { MOVE_EDITORS } from './move-editors';
import { OtherStrand, ownerOf } from './OtherStrand';
import { inputPath } from './inputs';
import { RegionLine } from './RegionLine';
import { Rows, Section } from './Rows';
import { SCALE_EDITORS } from './scale-editors';
import { ScatterChart } from './ScatterChart';
import { UnmixEditor } from './unmix-editor';

/** A rectangle of a step, as four numbers. */
function RectFields({ path, step }: { path: string; step: Step }) {
  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-1.5">
      {(['x', 'y', 'width', 'height'] as const).map((key) => (
        <NumberField
          key={key}
          label={key}
          value={numberOf(step[key])}
          min={key === 'width' || key === 'height' ? 1 : undefined}
          onChange={(value) => setValue(`${path}.${key}`, value)}
          className="[&_input]:w-20"
        />
      ))}
    </div>
  );
}

function LinearFitEditor({ path, step, recipe }: EditorProps) {
  const { described } = useSession();
  const measured = useMeasured(path) as LinearFit | LinearFit[] | undefined;
  const found = described?.charts[path] as Extract<Figure, { kind: 'fit' }> | undefined;
  const self = ownerOf(recipe, path);
  const fits = measured ? (Array.isArray(measured) ? measured : [measured]) : [];
  const [fit] = fits;
  const to = String(step.to ?? '');
  const total = fit ? fit.used + fit.rejected : 0;
  return (
    <>
      <Section>
        <OtherStrand label="to" path={path} name="to" value={step.to} recipe={recipe} />
        <Choice
          label="by"
          value={String(step.method ?? 'auto') as 'auto' | 'pixels' | 'levels'}
          options={[
            {
              value: 'auto',
              label: 'auto',
              hint: 'Pixels where the two are alike, levels where they show different things.',
            },
            { value: 'pixels', label: 'pixels', hint: 'A line through the pixels, noise in both taken into account.' },
            { value: 'levels', label: 'levels', hint: 'Matches the sky and the spread of the two.' },
          ]}
          onChange={(value) => setValue(`${path}.method`, value === 'auto' ? undefined : value)}
        />
        <SliderField
          label="ignore above"
          value={numberOf(step.high) ?? 1}
          min={0.01}
          max={1}
          onChange={(value) => setValue(`${path}.high`, value >= 1 ? undefined : value, 'high')}
          onCommit={end}
          digits={3}
        />
        <RegionLine path={`${path}.region`} region={step.region} />
        <ForAll verb="Fit" step={step} recipe={recipe} />
      </Section>
      <Section>
        {found && self && <ScatterChart fit={found} target={self} reference={to} colour={strandColour(recipe, self)} />}
        {fit && (
          <Rows
            rows={[
              ['slope', fits.map((f) => `${figure(f.b)} ± ${figure(f.bError)}`).join(' · ')],
              ['offset', fits.map((f) => `${figure(f.a, 5)} ± ${figure(f.aError, 5)}`).join(' · ')],
              [
                'alike',
                fit.correlation === undefined ? (
                  'held'
                ) : (
                  <span key="alike" className={fit.method === 'levels' ? 'text-lamp' : ''}>
                    {figure(fit.correlation, 2)}, so {fit.method}
                  </span>
                ),
              ],
              ...(total > 0
                ? [['pixels', `${count(fit.used)} · ${figure((100 * fit.rejected) / total, 1)} % left out`] as const]
                : []),
            ]}
          />
        )}
      </Section>
    </>
  );
}

function StretchEditor({ path, step, recipe }: EditorProps) {
  const { scene } = useSession();
  const measured = useMeasured(path) as
    | { auto: boolean; black: number | number[]; white: number | number[]; strength: number | number[] }
    | undefined;
  const input = inputPath(recipe, path);
  const colour = scene?.paths[input]?.planes === 3;
  const curve = String(step.curve ?? 'asinh') as StretchCurve;
  const given = step.black !== undefined || step.white !== undefined || step.strength !== undefined;
  const auto = step.auto === undefined ? !given : Boolean(step.auto);
  const black = firstOf(measured?.black, 0);
  const white = firstOf(measured?.white, 1);
  const strength = firstOf(measured?.strength, 100);
  // Touching a measured number takes all three over, as they stand, so that nothing jumps.
  const set = (key: 'black' | 'white' | 'strength', value: number): void => {
    const { auto: _, ...rest } = step;
    setValue(
      path,
      {
        ...rest,
        black: step.black ?? measured?.black ?? 0,
        white: step.white ?? measured?.white ?? 1,
        strength: step.strength ?? measured?.strength ?? 100,
        [key]: value,
      },
      key,
    );
  };
  const byHand = (): void =>
    setValue(path, {
      ...step,
      auto: undefined,
      black: measured?.black ?? 0,
      white: measured?.white ?? 1,
      strength: measured?.strength ?? 100,
    });
  const f = curveOf(curve, Math.max(1e-6, strength));
  return (
    <>
      <Section>
        <Histogram
          path={input}
          handles={[{ name: 'black', at: black, onMove: (at) => set('black', Math.min(at, white - 1e-4)) }]}
          curve={(x) => f(Math.min(1, Math.max(0, (x - black) / (white - black))))}
          onEnd={end}
        />
        <Choice
          label="curve"
          value={curve}
          options={(['asinh', 'midtone', 'power', 'log'] as const).map((value) => ({ value, label: value }))}
          onChange={(value) =>
            setValue(path, { ...step, curve: value, strength: undefined, ...(auto ? {} : { auto: true }) })
          }
        />
        <Choice
          label="figures"
          value={auto ? 'auto' : 'hand'}
          options={[
            { value: 'auto', label: 'auto', hint: 'Measured from the sky and its noise; follows every change above.' },
            { value: 'hand', label: 'by hand' },
          ]}
          onChange={(value) =>
            value === 'auto'
              ? setValue(path, { ...step, auto: undefined, black: undefined, white: undefined, strength: undefined })
              : byHand()
          }
        />
        {colour && (
          <Choice
            label="colour"
            value={String(step.colour ?? 'linked') as 'linked' | 'unlinked' | 'hue'}
            options={[
              { value: 'linked', label: 'linked', hint: 'One curve for all three planes.' },
              { value: 'unlinked', label: 'unlinked', hint: 'Each plane its own: neutralises a cast.' },
              { value: 'hue', label: 'hue', hint: 'Bright stars keep their colour.' },
            ]}
            onChange={(value) => setValue(`${path}.colour`, value === 'linked' ? undefined : value)}
          />
        )}
      </Section>
      <Section>
        {auto && (
          <SliderField
            label="sky at"
            value={numberOf(step.target) ?? 0.16}
            min={0.02}
            max={0.4}
            onChange={(value) => setValue(`${path}.target`, value, 'target')}
            onCommit={end}
            digits={3}
          />
        )}
        <SliderField
          label="strength"
          value={strength}
          {...(curve === 'asinh' || curve === 'log'
            ? { min: 0.1, max: 20000, log: true }
            : { min: 0.001, max: curve === 'midtone' ? 0.999 : 2 })}
          onChange={(value) => set('strength', value)}
          onCommit={end}
        />
        <NumberField
          label="black"
          value={black}
          onChange={(value) => value !== undefined && set('black', value)}
          onCommit={end}
        />
        <NumberField
          label="white"
          value={white}
          onChange={(value) => value !== undefined && set('white', value)}
          onCommit={end}
        />
      </Section>
    </>
  );
}

function LevelsEditor({ path, step, recipe }: EditorProps) {
  const value = (key: 'black' | 'mid' | 'white', fallback: number) => firstOf(step[key], fallback);
  const black = value('black', 0);
  const mid = value('mid', 0.5);
  const white = value('white', 1);
  const set = (key: string, next: number): void => setValue(`${path}.${key}`, next, key);
  return (
    <Section>
      <Histogram
        path={inputPath(recipe, path)}
        handles={[
          { name: 'black', at: black, onMove: (at) => set('black', Math.min(Math.max(0, at), white - 0.01)) },
          {
            name: 'mid',
            at: black + mid * (white - black),
            onMove: (at) => set('mid', Math.min(0.99, Math.max(0.01, (at - black) / (white - black)))),
          },
          { name: 'white', at: white, onMove: (at) => set('white', Math.max(at, black + 0.01)) },
        ]}
        curve={(x) => midtone((x - black) / (white - black), mid)}
        onEnd={end}
      />
      <SliderField
        label="black"
        value={black}
        min={0}
        max={0.5}
        onChange={(v) => set('black', Math.min(v, white - 0.01))}
        onCommit={end}
        digits={3}
      />
      <SliderField
        label="mid"
        value={mid}
        min={0.02}
        max={0.98}
        onChange={(v) => set('mid', Math.min(0.99, Math.max(0.01, v)))}
        onCommit={end}
        digits={3}
      />
      <SliderField
        label="white"
        value={white}
        min={0.2}
        max={1}
        onChange={(v) => set('white', Math.max(v, black + 0.01))}
        onCommit={end}
        digits={3}
      />
    </Section>
  );
}

function ScaleEditor({ path, step }: EditorProps) {
  return (
    <Section>
      <SliderField
        label="multiply"
        value={numberOf(step.multiply) ?? 1}
        min={0.1}
        max={10}
        log
        onChange={(value) => setValue(`${path}.multiply`, value, 'multiply')}
        onCommit={end}
      />
      <SliderField
        label="add"
        value={numberOf(step.add) ?? 0}
        min={-0.1}
        max={0.1}
        onChange={(value) => setValue(`${path}.add`, value, 'add')}
        onCommit={end}
      />
    </Section>
  );
}

function LevelSkyEditor({ path, step }: EditorProps) {
  const measured = useMeasured(path) as { sky: number[]; level: number } | undefined;
  return (
    <Section>
      <NumberField
        label="level"
        value={numberOf(step.level)}
        optional
        placeholder={measured ? figure(measured.level, 5) : 'mean'}
        onChange={(value) => setValue(`${path}.level`, value)}
      />
      {measured && (
        <Rows
          rows={[
            ['sky found', measured.sky.map((s) => figure(s, 5)).join(' ')],
            ['brought to', figure(measured.level, 5)],
          ]}
        />
      )}
      <RegionLine path={`${path}.region`} region={step.region} />
    </Section>
  );
}

function CropEditor({ path, step }: EditorProps) {
  return (
    <Section title="rectangle, in pixels from the lower left">
      <RectFields path={path} step={step} />
      <p className="text-[12.5px] text-hush">
        Drag its corners or its edge on the picture, or draw a new one with Shift.
      </p>
    </Section>
  );
}

function TintEditor({ path, step }: EditorProps) {
  const value = String(step.colour ?? '#ffffff');
  return (
    <Section>
      <label className="flex items-center justify-between">
        <span className="text-soft">colour</span>
        <span className="flex items-center gap-3">
          <span className="figures">{value}</span>
          <input
            type="color"
            aria-label="colour"
            value={value}
            onChange={(event) => setValue(`${path}.colour`, event.target.value, 'colour')}
            onBlur={end}
            className="h-7 w-12 cursor-pointer rounded-md border border-edge bg-pit"
          />
        </span>
      </label>
    </Section>
  );
}

/** The editor of each step kind. */
export const EDITORS: Readonly<Record<string, (props: EditorProps) => React.ReactNode>> = {
  'linear-fit': LinearFitEditor,
  stretch: StretchEditor,
  levels: LevelsEditor,
  scale: ScaleEditor,
  'level-sky': LevelSkyEditor,
  crop: CropEditor,
  tint: TintEditor,
  unmix: UnmixEditor,
  ...MOVE_EDITORS,
  ...LINEAR_EDITORS,
  ...SCALE_EDITORS,
};
