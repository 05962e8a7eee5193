import type { ReactNode } from 'react';
import { LUMINANCE } from '@owl-loom/algorithms/colour/luminance';
import { type NoiseContributions, totalNoise, combineContributions } from '@owl-loom/engine/noise-propagation';
import { noiseBreakdown, noiseWarning } from '@owl-loom/engine/noise-breakdown';
import type { Mix, Recipe } from '@owl-loom/recipe/schema';
import { gestureEnded } from '../../store/draft';
import { store } from '../../store/store';
import { Choice, NumberField } from '../../ui/controls';
import { figure } from '../../ui/numbers';
import { type ColumnName, COLUMNS } from '../../document/columns';
import { setAsIs, setWeight, switchHint, switchInMix } from '../draft/TieUp';
import { setValue } from '../../document/edit';
import { useReport } from '../../session/session';
import { effectOf, isShared, activeWeights } from '@owl-loom/recipe/mix-weights';
import { strandPath, strandsReadBySource } from '@owl-loom/recipe/walk';
import { useStrandColours } from '../../session/strands';
import { isDenoised } from '../../session/noise-measurements';
import { useNoiseMeasurements, useNoiseWanted } from '../../session/use-requested-measurement';
import { NoiseFrom } from './NoiseFrom';
import { Section } from '../fields/Rows';

const end = (): void => {
  store.dispatch(gestureEnded());
};

/** Changes one gain; a gain of 1 is taken out, and the list with the last of them. */
function setGain(path: string, mix: Mix, id: string, gain: number): void {
  const { [id]: _, ...others } = mix.gain ?? {};
  const next = gain === 1 ? others : { ...others, [id]: gain };
  setValue(`${path}.gain`, Object.keys(next).length > 0 ? next : undefined);
}

/** What a strand's image brings into a column: its own plane, or its luminance. */
function hangIn(planes: readonly NoiseContributions[], column: ColumnName): NoiseContributions {
  if (planes.length === 1) return planes[0];
  if (column !== 'luminance') return planes[COLUMNS.findIndex(({ name }) => name === column)];
  return combineContributions(planes.map((hang, p) => ({ weight: LUMINANCE[p], hang })));
}

/** A column's or a strand's name, which a press switches off for a look and on again. */
function Switch({
  name,
  off,
  colour,
  onPress,
  children,
}: {
  name: string;
  off: boolean;
  colour: string;
  onPress: () => void;
  children: ReactNode;
}) {
  const hint = switchHint(name, off);
  return (
    <button
      type="button"
      title={hint}
      aria-label={hint}
      aria-pressed={off}
      onClick={onPress}
      className={`max-w-full truncate rounded px-1 font-semibold hover:bg-shelf ${off ? 'line-through opacity-45' : ''}`}
      style={{ color: colour }}
    >
      {children}
    </button>
  );
}

/** The tie-up in numbers: a weight for each strand and column, gains, and the noise that each column will carry. */
export function MixBench({
  path,
  mix,
  recipe,
  self,
}: {
  path: string;
  mix: Mix;
  recipe: Recipe;
  self: string | undefined;
}) {
  const strandColour = useStrandColours(recipe);
  const described = useReport();
  useNoiseMeasurements(recipe);
  const strands = recipe.strands.filter((strand) => strand.id !== self);
  const used = strandsReadBySource(mix);
  const inEffect = activeWeights(mix);
  const off = { strands: mix.off?.strands ?? [], columns: mix.off?.columns ?? [] };
  // Strands may depend on the same stacks: what one takes off another brings back, so that their noises do not simply add as squares.
  const hangOf = (column: ColumnName): NoiseContributions | undefined => {
    const weights = Object.entries(inEffect[column] ?? {}).filter(([, w]) => w !== 0);
    const effect = effectOf(mix, column);
    const parts = weights.flatMap(([id]) => {
      const planes = described?.hangs[strandPath(recipe, id) ?? ''];
      if (!planes) return [];
      return [{ weight: (mix.gain?.[id] ?? 1) * effect[id], hang: hangIn(planes, column) }];
    });
    return parts.length > 0 && parts.length === weights.length ? combineContributions(parts) : undefined;
  };
  // What is left of a denoised strand's noise does not add up as squares: it is measured on the woven image.
  const measures = used.some((id) => isDenoised(recipe, id));
  useNoiseWanted(path, measures);
  const tone = described?.tones[path];
  const woven = measures && tone?.kind === 'tone' ? tone.planes : undefined;
  const accounts = COLUMNS.map(({ name, short, colour }, c) => {
    const hang = hangOf(name);
    const reckoned = measures ? undefined : hang && totalNoise(hang);
    // A luminance is no plane of its own in what is woven.
    const noise = name === 'luminance' ? reckoned : (woven?.[c]?.noise ?? reckoned);
    return { name, short, colour, noise, shares: hang ? noiseBreakdown(hang) : [] };
  });
  const warnings = accounts.flatMap(({ name, shares }) => noiseWarning(name, shares) ?? []);
  return (
    <Section title="tie-up">
      <Choice
        label="weights"
        value={mix.weights ?? 'as-is'}
        options={[
          { value: 'as-is', label: 'As entered' },
          {
            value: 'share',
            label: 'Normalised',
            hint: 'Weights of each column are scaled to a sum of 1: 1 and 1 give half and half.',
          },
        ]}
        onChange={(value) => {
          const { asIs: _, ...rest } = mix;
          setValue(path, { ...rest, weights: value });
        }}
      />
      <table className="w-full table-fixed text-[12.5px]">
        <thead>
          <tr className="text-hush">
            <th className="w-14 pb-1 text-left font-normal">Strand</th>
            {COLUMNS.map(({ name, short, colour }) => (
              <th key={name} className="pb-1 text-right">
                <Switch
                  name={name}
                  off={off.columns.includes(name)}
                  colour={colour}
                  onPress={() => switchInMix(path, 'columns', name)}
                >
                  {short}
                </Switch>
              </th>
            ))}
            <th className="pb-1 text-right font-normal">Gain</th>
          </tr>
        </thead>
        <tbody>
          {strands.map((strand) => (
            <tr key={strand.id}>
              <td className="truncate">
                {used.includes(strand.id) ? (
                  <Switch
                    name={strand.id}
                    off={off.strands.includes(strand.id)}
                    colour={strandColour(strand.id)}
                    onPress={() => switchInMix(path, 'strands', strand.id)}
                  >
                    {strand.id}
                  </Switch>
                ) : (
                  <b className="font-semibold" style={{ color: strandColour(strand.id) }}>
                    {strand.id}
                  </b>
                )}
              </td>
              {COLUMNS.map(({ name }) => (
                <td
                  key={name}
                  className={`py-0.5 pl-1 ${off.columns.includes(name) || off.strands.includes(strand.id) ? 'opacity-45' : ''}`}
                >
                  <NumberField
                    hideLabel
                    label={`${strand.id} in ${name}`}
                    value={mix.mix[name]?.[strand.id] ?? 0}
                    digits={4}
                    onChange={(value) => setWeight(path, name, strand.id, value ?? 0)}
                    onCommit={end}
                    className="[&_input]:w-full [&_input]:px-1"
                  />
                </td>
              ))}
              <td className="py-0.5 pl-1.5">
                {used.includes(strand.id) && (
                  <NumberField
                    hideLabel
                    label={`gain of ${strand.id}`}
                    value={mix.gain?.[strand.id] ?? 1}
                    digits={4}
                    onChange={(value) => setGain(path, mix, strand.id, value ?? 1)}
                    className="[&_input]:w-full [&_input]:px-1"
                  />
                )}
              </td>
            </tr>
          ))}
          {mix.weights === 'share' && (
            <tr className="text-hush">
              <td className="pt-1.5">Weights</td>
              {COLUMNS.map(({ name }) => {
                const shared = isShared(mix, name);
                const used = Object.values(inEffect[name] ?? {}).some((w) => w !== 0);
                return (
                  <td key={name} className="pt-1.5 pl-1 text-right text-[11px]">
                    {used && (
                      <button
                        type="button"
                        aria-pressed={!shared}
                        title={shared ? `Use the weights of ${name} as entered` : `Normalise the weights of ${name}`}
                        onClick={() => setAsIs(path, name, shared)}
                        className="rounded px-1 hover:bg-shelf aria-pressed:text-lamp"
                      >
                        {shared ? 'sum 1' : 'entered'}
                      </button>
                    )}
                  </td>
                );
              })}
              <td />
            </tr>
          )}
          <tr className="text-hush">
            <td
              className="pt-1.5"
              title={measures ? 'measured on the result' : 'computed from the noise of the strands'}
            >
              Noise
            </td>
            {accounts.map(({ name, noise }) => (
              <td key={name} className="figures pt-1.5 text-right text-[11px]!">
                {figure(noise, 4)}
              </td>
            ))}
            <td />
          </tr>
        </tbody>
      </table>
      {measures && (
        <p className="text-[12.5px] text-hush">
          {woven ? 'Noise is measured on the result' : 'Measuring the noise of the result …'}, since a strand is
          denoised.
        </p>
      )}
      <NoiseFrom accounts={accounts} warnings={warnings} />
    </Section>
  );
}
