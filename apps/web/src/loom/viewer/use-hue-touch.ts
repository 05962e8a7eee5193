import { useRef, useState } from 'react';
import { oklchOf } from '@owl-loom/algorithms/colour/oklch';
import { srgbToLinear } from '@owl-loom/algorithms/colour/srgb';
import type { Recipe } from '@owl-loom/recipe/schema';
import { stepOwnerAt } from '@owl-loom/recipe/walk';
import type { Spot } from '../../image-view/ImageView';
import { stepLocation, stepAt, maskAt } from '@owl-loom/recipe/paths';
import { gestureEnded } from '../../store/draft';
import { store, useAppSelector, useAppDispatch } from '../../store/store';
import { viewChanged } from '../../store/view';
import type { HueBand } from '@owl-loom/engine/steps/hue-bands';
import { hueWeight } from '@owl-loom/algorithms/colour/hue-membership';
import { draggedBand } from '../fields/hue-ring';
import { stepInputPath } from '../../document/state-paths';
import { setValue } from '../../document/edit';
import { pickRect } from './attribution-tool';
import { useSession } from '../../session/session';

/** Where a hue is told by a touch: the number it sets, and the image on which it is shown. */
interface HuePlace {
  readonly centre: string;
  readonly image: string;
  /** The step of families of hues that it belongs to, and those. */
  readonly step?: string;
  readonly bands?: readonly HueBand[];
}

/** The chosen mask's, where it goes by a hue, or that of the family taken up in the chosen step. */
function huePlace(recipe: Recipe, chosen: string, piece: number | null): HuePlace | undefined {
  if (stepLocation(chosen)) {
    const step = stepAt(recipe, chosen);
    if (step?.do !== 'hue-bands') return undefined;
    const bands = step.bands as readonly HueBand[];
    const image = stepInputPath(recipe, chosen);
    return { centre: `${chosen}.bands[${piece ?? 0}].centre`, image, step: chosen, bands };
  }
  const owner = stepOwnerAt(recipe, chosen);
  return owner?.kind === 'mask' && maskAt(recipe, owner.path)?.hue
    ? { centre: `${owner.path}.hue.centre`, image: `${owner.path}.of` }
    : undefined;
}

/** A family that a touch has found, and where the touch began. */
interface Found {
  readonly path: string;
  readonly band: HueBand;
  readonly at: Spot;
}

/**
 * The touch that tells a mask, or a family of hues, which hue is meant. Until it comes, the picture shows what that is taken from. A touched
 * hue that a family holds takes that one up; another becomes the middle of the one that is taken up. A drag from there turns it, to the side,
 * and makes it more or less colourful, up and down.
 * @param zoom screen pixels a frame pixel
 */
export function useHueTouch(zoom: number): {
  /** Path of what is to be seen while the touch is waited for. */
  readonly path: string | undefined;
  /** Takes a touch; false where none is waited for. */
  onDrag(at: Spot, phase: 'down' | 'move' | 'up'): boolean;
} {
  const { recipe, selectedPath: chosen } = useAppSelector((state) => state.draft);
  const { tool, selectedShape: piece } = useAppSelector((state) => state.view);
  const { engine, scene } = useSession();
  const send = useAppDispatch();
  const [held, setHeld] = useState(false);
  const found = useRef<Found>(undefined);
  const place = tool === 'hue' && recipe ? huePlace(recipe, chosen, piece) : undefined;
  const of = place?.image;
  const info = of === undefined ? undefined : scene?.paths[of];

  const hueAt = async (image: string, at: Spot): Promise<number> => {
    const { planes } = await engine.ask({ type: 'region', rect: pickRect(at, zoom), paths: [image] });
    const [r, g, b] = (planes[image] ?? []).map(({ median }) =>
      info?.domain === 'linear' ? median : srgbToLinear(median),
    );
    return oklchOf([r, g, b])[2];
  };

  const began = async (image: string, { centre, step, bands = [] }: HuePlace, at: Spot): Promise<void> => {
    const hue = await hueAt(image, at);
    if (!Number.isFinite(hue)) return;
    const holder = bands.findIndex((band) => hueWeight(band, hue) > 0.5);
    if (holder < 0) setValue(centre, Math.round(hue));
    const index = holder < 0 ? (piece ?? 0) : holder;
    if (step === undefined || !bands[index]) return;
    send(viewChanged({ selectedShape: index }));
    const centred = holder < 0 ? { centre: Math.round(hue) } : {};
    found.current = { path: `${step}.bands[${index}]`, band: { ...bands[index], ...centred }, at };
  };

  return {
    path: info && !held ? of : undefined,
    onDrag: (at, phase) => {
      if (!place || of === undefined || !info) return false;
      if (phase === 'down') {
        found.current = undefined;
        void began(of, place, at);
      }
      const touched = found.current;
      if (phase === 'move' && touched) {
        const changed = draggedBand(touched.band, at.sx - touched.at.sx, at.sy - touched.at.sy);
        if (changed) {
          setHeld(true);
          setValue(touched.path, { ...touched.band, ...changed }, 'hue');
        }
      }
      if (phase !== 'up') return true;
      found.current = undefined;
      setHeld(false);
      store.dispatch(gestureEnded());
      send(viewChanged({ tool: null }));
      return true;
    },
  };
}
