import { useState } from 'react';
import { CURVES, type CurveName, type curves } from '../../../../../core/steps/curves';
import type { CurvePoint } from '../../../../../core/tone/monotone';
import { Button, Choice } from '../../../ui/controls';
import { useSession } from '../../session';
import { isStraight, STRAIGHT } from '../curve-points';
import { end } from '../editor';
import { inputPath } from '../inputs';
import { Section } from '../Rows';
import { ToneCurve } from '../ToneCurve';
import { editorOf } from './editor';

const COLOURS: Readonly<Record<CurveName, string>> = {
  all: 'var(--color-text)',
  red: 'var(--color-red)',
  green: 'var(--color-green)',
  blue: 'var(--color-blue)',
  luminance: 'var(--color-lamp)',
  chroma: 'var(--color-soft)',
};

const HINTS: Partial<Record<CurveName, string>> = {
  luminance: 'Luminance: all three colours are shifted along with it.',
  chroma: 'How colourful what is dull, and what is strong, becomes.',
};

export const CurvesEditor = editorOf<typeof curves>(({ path, recipe, params, set }) => {
  const { scene } = useSession();
  const from = inputPath(recipe, path);
  const names = scene?.paths[from]?.planes === 1 ? (['all'] as const) : CURVES;
  const [chosen, setChosen] = useState<CurveName>(() => CURVES.find((name) => params[name]) ?? 'all');
  const name = names.find((own) => own === chosen) ?? 'all';
  const lineOf = (own: CurveName) => ({
    name: own,
    colour: COLOURS[own],
    points: (params[own] ?? STRAIGHT) as readonly CurvePoint[],
  });
  const put = (points: readonly CurvePoint[]): void =>
    set(
      name,
      isStraight(points) && points.length === 2 ? undefined : points.map(([x, y]): [number, number] => [x, y]),
      'moving',
    );
  return (
    <Section>
      {names.length > 1 && (
        <Choice
          label="line"
          hideLabel
          value={name}
          options={names.map((value) => ({ value, label: value === 'luminance' ? 'lum.' : value, hint: HINTS[value] }))}
          onChange={setChosen}
        />
      )}
      <ToneCurve
        path={from}
        line={lineOf(name)}
        others={names.filter((own) => own !== name && params[own]).map(lineOf)}
        onChange={put}
        onEnd={end}
      />
      <div className="flex items-center justify-between gap-3 text-[12.5px] text-hush">
        <span>Press to set a point, double-click to take one away.</span>
        <Button small look="quiet" disabled={!params[name]} onClick={() => set(name, undefined)}>
          straight
        </Button>
      </div>
    </Section>
  );
});
