import { Crosshair } from 'lucide-react';
import { useState } from 'react';
import type { curves } from '@owl-loom/recipe/steps/curves';
import { CURVES, type CurveName } from '@owl-loom/engine/steps/curves';
import { type CurvePoint, monotoneCubic } from '@owl-loom/algorithms/tone/monotone';
import { Button, Choice } from '../../ui/controls';
import { useAppSelector, useAppDispatch } from '../../store/store';
import { viewChanged } from '../../store/view';
import { useLatestReply } from '../../session/use-latest-reply';
import { usePointer, useTouch } from '../viewer/pointer';
import { useSession } from '../../session/session';
import { added, isStraight, placeOn, placesOn, PLANES, STRAIGHT } from '../fields/curve-points';
import { endGesture } from '../../document/edit';
import { stepInputPath } from '../../document/state-paths';
import { Section } from '../fields/Rows';
import { ToneCurve } from '../fields/ToneCurve';
import type { PropsOf } from '../fields/step-editor';

const COLOURS: Readonly<Record<CurveName, string>> = {
  all: 'var(--color-text)',
  red: 'var(--color-red)',
  green: 'var(--color-green)',
  blue: 'var(--color-blue)',
  luminance: 'var(--color-lamp)',
  chroma: 'var(--color-soft)',
};

const HINTS: Partial<Record<CurveName, string>> = {
  luminance: 'Luminance: all channels shift together',
  chroma: 'Chroma: changes weak and strong colours separately',
};

export function CurvesEditor({ path, recipe, params, set }: PropsOf<typeof curves>) {
  const { engine, scene } = useSession();
  const from = stepInputPath(recipe, path);
  const names = scene?.paths[from]?.planes === 1 ? (['all'] as const) : CURVES;
  const [chosen, setChosen] = useState<CurveName>(() => CURVES.find((name) => params[name]) ?? 'all');
  const name = names.find((own) => own === chosen) ?? 'all';
  const pixel = usePointer();
  const send = useAppDispatch();
  const taking = useAppSelector((state) => state.view.tool === 'curve');
  const probed = useLatestReply(pixel && { type: 'probe', x: pixel.x, y: pixel.y, paths: [from] }, from)?.[from];
  const places = probed ? placesOn(name, probed, params) : [];
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
  // A touch of the picture sets a point where that pixel stands.
  useTouch(async ({ x, y }) => {
    if (!taking) return;
    const { [from]: touched } = await engine.ask({ type: 'probe', x, y, paths: [from] });
    const at = touched && placeOn(name, touched, params);
    if (at === undefined) return;
    const { points } = lineOf(name);
    put(added(points, [at, monotoneCubic(points)(Math.min(1, Math.max(0, at)))]).points);
    endGesture();
  });
  return (
    <Section>
      {names.length > 1 && (
        <Choice
          label="Channel"
          hideLabel
          value={name}
          options={names.map((value) => ({ value, label: value === 'luminance' ? 'lum.' : value, hint: HINTS[value] }))}
          onChange={setChosen}
        />
      )}
      <ToneCurve
        path={from}
        line={lineOf(name)}
        pointed={places.map((x, p) => ({
          x: Math.min(1, Math.max(0, x)),
          colour: places.length === 3 ? COLOURS[PLANES[p]] : 'var(--color-text)',
        }))}
        others={names.filter((own) => own !== name && params[own]).map(lineOf)}
        onChange={put}
        onEnd={endGesture}
      />
      <p className="text-[12.5px] text-hush">Click to add a point, double-click to remove it.</p>
      <div className="flex items-center justify-between gap-3">
        <Button
          small
          look={taking ? 'lamp' : 'plain'}
          aria-pressed={taking}
          onClick={() => send(viewChanged({ tool: taking ? null : 'curve' }))}
        >
          <Crosshair size={13} /> {taking ? 'Click the picture …' : 'Pick points from the picture'}
        </Button>
        <Button small look="quiet" disabled={!params[name]} onClick={() => set(name, undefined)}>
          Reset
        </Button>
      </div>
    </Section>
  );
}
