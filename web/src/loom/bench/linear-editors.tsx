import { useEffect } from 'react';
import type { Figure } from '../../../../core/figures/index';
import { Button, Choice, SliderField } from '../../ui/controls';
import { count, figure } from '../../ui/numbers';
import { setValue } from '../edit';
import { useSession } from '../session';
import { CurveChart, StarChart } from './ContinuumCharts';
import { type EditorProps, end, numberOf, useMeasured } from './editor';
import { Leftovers } from './Leftovers';
import { OtherStrand, ownerOf } from './OtherStrand';
import { Rows, Section } from './Rows';

function GradientEditor({ path, step }: EditorProps) {
  const { described } = useSession();
  const measured = useMeasured(path) as { samples: number; level: number[] } | undefined;
  const found = described?.charts[path] as Extract<Figure, { kind: 'gradient' }> | undefined;
  const byHand = Array.isArray(step.samples);
  const spline = step.model !== 'polynomial';
  return (
    <>
      <Section>
        <Choice
          label="surface"
          value={spline ? 'spline' : 'polynomial'}
          options={[
            { value: 'spline', label: 'spline', hint: 'Follows uneven glow; smoothing keeps it calm.' },
            { value: 'polynomial', label: 'polynomial', hint: 'One simple bend over the whole field.' },
          ]}
          onChange={(value) => setValue(`${path}.model`, value === 'spline' ? undefined : value)}
        />
        {spline ? (
          <SliderField
            label="smoothing"
            value={numberOf(step.smoothing) ?? 1}
            min={0.01}
            max={1000}
            log
            onChange={(value) => setValue(`${path}.smoothing`, value, 'smoothing')}
            onCommit={end}
          />
        ) : (
          <SliderField
            label="degree"
            value={numberOf(step.degree) ?? 2}
            min={1}
            max={4}
            step={1}
            onChange={(value) => setValue(`${path}.degree`, Math.round(value), 'degree')}
            onCommit={end}
            digits={1}
          />
        )}
        <Choice
          label="by"
          value={String(step.by ?? 'subtract') as 'subtract' | 'divide'}
          options={[
            { value: 'subtract', label: 'subtract', hint: 'For light that was added, such as a town\u2019s glow.' },
            { value: 'divide', label: 'divide', hint: 'For light that was lost, as towards dim corners.' },
          ]}
          onChange={(value) => setValue(`${path}.by`, value === 'subtract' ? undefined : value)}
        />
      </Section>
      <Section title="samples on the sky">
        <Rows
          rows={[
            ['boxes', measured ? `${count(measured.samples)}, ${byHand ? 'by hand' : 'found by itself'}` : '…'],
            ...(measured ? [['level kept', measured.level.map((v) => figure(v, 5)).join(' ')] as const] : []),
          ]}
        />
        <p className="text-[12.5px] text-hush">
          Drag a box on the picture to move it; double-click the sky to add one, a box to remove it. Press T to see what
          is taken out.
        </p>
        <div className="flex gap-2">
          <Button small disabled={byHand || !found} onClick={() => found && setValue(`${path}.samples`, found.boxes)}>
            Keep these boxes
          </Button>
          <Button small disabled={!byHand} onClick={() => setValue(`${path}.samples`, undefined)}>
            Find them again
          </Button>
        </div>
      </Section>
    </>
  );
}

interface FoundContinuum {
  readonly method: string;
  readonly k: number;
  readonly kError?: number;
  readonly stars?: number;
  readonly belowSky?: number;
  readonly starlit?: boolean;
}

/** The share at a k, between those that were measured; undefined beyond them. */
function shareAt(shares: readonly (readonly [number, number])[], k: number): number | undefined {
  const at = shares.findIndex(([other]) => other >= k);
  if (at < 0) return undefined;
  if (at === 0) return shares[0][1];
  const [[k0, s0], [k1, s1]] = [shares[at - 1], shares[at]];
  return s0 + ((s1 - s0) * (k - k0)) / (k1 - k0);
}

function ContinuumEditor({ path, step, recipe }: EditorProps) {
  const { described, engine } = useSession();
  useEffect(() => {
    engine.wants.set('continuum', [{ figure: 'continuum', path }]);
    return () => {
      engine.wants.delete('continuum');
    };
  }, [engine, path]);
  const measured = useMeasured(path) as FoundContinuum | undefined;
  const chart = described?.charts[path] as Extract<Figure, { kind: 'continuum' }> | undefined;
  const method = step.k !== undefined ? 'manual' : (String(step.method ?? 'stars') as 'stars' | 'skewness' | 'manual');
  // Until the server has counted the stars there is nothing to say of k.
  const waiting = measured?.kError !== undefined && !Number.isFinite(measured.kError);
  const k = numberOf(step.k) ?? measured?.k ?? 0;
  const below = measured?.belowSky ?? (chart ? shareAt(chart.shares, k) : undefined);
  const setMethod = (value: 'stars' | 'skewness' | 'manual'): void => {
    const { k: _, method: __, ...rest } = step;
    setValue(
      path,
      value === 'manual'
        ? { ...rest, method: value, k: Number(k.toPrecision(4)) }
        : value === 'stars'
          ? rest
          : { ...rest, method: value },
    );
  };
  const setK = (value: number): void => setValue(path, { ...step, method: 'manual', k: value }, 'k');
  return (
    <>
      <Section>
        <OtherStrand label="starlight from" path={path} name="broad" value={step.broad} recipe={recipe} />
        <Choice
          label="k by"
          value={method}
          options={[
            { value: 'stars', label: 'stars', hint: 'The ratio of star fluxes in the two images.' },
            {
              value: 'skewness',
              label: 'skewness',
              hint: 'Where the skewness of what is left turns; right where starlight dominates.',
            },
            { value: 'manual', label: 'hand' },
          ]}
          onChange={setMethod}
        />
        <SliderField
          label="k"
          value={k}
          min={0}
          max={Math.max(0.6, 2 * (measured?.k ?? 0.3))}
          onChange={setK}
          onCommit={end}
        />
        <Choice
          label="seeing"
          value={step.matchSeeing ? 'matched' : 'as it is'}
          options={[
            { value: 'as it is', label: 'as it is' },
            {
              value: 'matched',
              label: 'matched',
              hint: 'The sharper of the two is softened to the other, so that stars leave no rings.',
            },
          ]}
          onChange={(value) => setValue(`${path}.matchSeeing`, value === 'matched' ? true : undefined)}
        />
      </Section>
      <Section>
        {chart && chart.pairs.length > 0 && (
          <StarChart found={chart} line={ownerOf(recipe, path) ?? 'line'} broad={String(step.broad ?? '')} k={k} />
        )}
        {chart && chart.curve.length > 0 && <CurveChart found={chart} k={k} />}
        {chart && chart.spots.length > 0 && <Leftovers path={path} spots={chart.spots} />}
        {waiting && <p className="text-[13px] text-soft">Measuring k on the whole image …</p>}
        {measured && !waiting && (
          <Rows
            rows={[
              [
                'k',
                measured.kError === undefined
                  ? figure(measured.k, 4)
                  : `${figure(measured.k, 4)} ± ${figure(measured.kError, 4)}`,
              ],
              ...(measured.stars ? [['stars', count(measured.stars)] as const] : []),
              ...(below === undefined
                ? []
                : [
                    [
                      'below the sky',
                      <span key="b" className={below > 0.006 ? 'text-ember' : ''}>
                        {figure(100 * below, 2)} %
                      </span>,
                    ] as const,
                  ]),
            ]}
          />
        )}
        {measured?.starlit === false && (
          <p className="text-[12.5px] text-lamp">
            Gas outshines the stars here, so skewness may turn elsewhere; stars tell better.
          </p>
        )}
        <p className="text-[12.5px] text-hush">Too little leaves stars bright, too much leaves them as dark holes.</p>
      </Section>
    </>
  );
}

function CalibrateEditor({ path, step }: EditorProps) {
  const measured = useMeasured(path) as { white: number[]; stars?: number } | undefined;
  const method = String(step.method ?? 'stars') as 'stars' | 'catalogue' | 'manual';
  const white = Array.isArray(step.white) ? (step.white as number[]) : (measured?.white ?? [1, 1, 1]);
  return (
    <Section>
      <Choice
        label="by"
        value={method}
        options={[
          { value: 'stars', label: 'stars', hint: 'The mean star is white.' },
          { value: 'catalogue', label: 'catalogue', hint: 'Stars take the colours that the catalogue has for them.' },
          { value: 'manual', label: 'hand' },
        ]}
        onChange={(value) =>
          setValue(path, {
            ...step,
            method: value === 'stars' ? undefined : value,
            white: value === 'manual' ? white.map((v) => Number(v.toPrecision(4))) : undefined,
          })
        }
      />
      {method === 'manual'
        ? (['red', 'green', 'blue'] as const).map((name, p) => (
            <SliderField
              key={name}
              label={name}
              value={white[p]}
              min={0.2}
              max={5}
              log
              onChange={(value) =>
                setValue(
                  `${path}.white`,
                  white.map((v, q) => (q === p ? value : v)),
                  `white ${name}`,
                )
              }
              onCommit={end}
            />
          ))
        : measured && (
            <Rows
              rows={[
                ['gains', measured.white.map((v) => figure(v, 3)).join(' · ')],
                ...(measured.stars ? [['stars', count(measured.stars)] as const] : []),
              ]}
            />
          )}
    </Section>
  );
}

/** Editors of the steps that prepare linear data. */
export const LINEAR_EDITORS = {
  gradient: GradientEditor,
  continuum: ContinuumEditor,
  calibrate: CalibrateEditor,
} as const;
