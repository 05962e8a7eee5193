import { oklchOf } from '../../../../core/colour/oklch';
import { decoded } from '../../../../core/colour/srgb';
import type { Mask, Recipe, Step } from '../../../../core/recipe/schema';
import { ownerAt } from '../../../../core/recipe/walk';
import type { Spot } from '../../stage/Stage';
import { stepPlace, valueAt } from '../../store/paths';
import { useApp, useSend } from '../../store/store';
import { looked } from '../../store/view';
import { inputPath } from '../bench/inputs';
import { setValue } from '../edit';
import { useSession } from '../session';

/** Screen pixels about a touch over which the colour is taken: one pixel is as much noise as hue. */
const AROUND = 5;

/** Where a hue is told by a touch: the number it sets, and the image on which it is shown. */
interface HuePlace {
  readonly centre: string;
  readonly image: string;
}

/** The chosen mask's, where it goes by a hue, or that of the family taken up in the chosen step. */
function huePlace(recipe: Recipe, chosen: string, piece: number | null): HuePlace | undefined {
  if (stepPlace(chosen)) {
    const step = valueAt(recipe, chosen) as Step | undefined;
    return step?.do === 'hue-bands'
      ? { centre: `${chosen}.bands[${piece ?? 0}].centre`, image: inputPath(recipe, chosen) }
      : undefined;
  }
  const owner = ownerAt(recipe, chosen);
  return owner?.kind === 'mask' && (valueAt(recipe, owner.path) as Mask).hue
    ? { centre: `${owner.path}.hue.centre`, image: `${owner.path}.of` }
    : undefined;
}

/**
 * The touch that tells a mask, or a family of hues, which hue is meant. Until it comes, the picture shows what that is taken from.
 * @param zoom screen pixels a frame pixel
 */
export function useHueTouch(zoom: number): {
  /** Path of what is to be seen while the touch is waited for. */
  readonly path: string | undefined;
  /** Takes a touch; false where none is waited for. */
  onDrag(at: Spot, phase: 'down' | 'move' | 'up'): boolean;
} {
  const { recipe, chosen } = useApp((state) => state.draft);
  const { tool, piece } = useApp((state) => state.view);
  const { engine, scene } = useSession();
  const send = useSend();
  const place = tool === 'hue' && recipe ? huePlace(recipe, chosen, piece) : undefined;
  const of = place?.image;
  const info = of === undefined ? undefined : scene?.paths[of];
  return {
    path: info ? of : undefined,
    onDrag: (at, phase) => {
      if (!place || of === undefined || !info) return false;
      if (phase !== 'up') return true;
      const size = Math.max(1, Math.round(AROUND / zoom));
      const rect = { x: Math.round(at.x - size / 2), y: Math.round(at.y - size / 2), width: size, height: size };
      void engine.ask({ type: 'region', rect, paths: [of] }).then(({ planes }) => {
        const [r, g, b] = (planes[of] ?? []).map(({ median }) => (info.domain === 'linear' ? median : decoded(median)));
        const [, , hue] = oklchOf([r, g, b]);
        if (Number.isFinite(hue)) setValue(place.centre, Math.round(hue));
        send(looked({ tool: null }));
      });
      return true;
    },
  };
}
