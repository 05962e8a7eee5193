import { oklchOf } from '../../../../core/colour/oklch';
import { decoded } from '../../../../core/colour/srgb';
import type { Mask, Recipe } from '../../../../core/recipe/schema';
import { ownerAt } from '../../../../core/recipe/walk';
import type { Spot } from '../../stage/Stage';
import { valueAt } from '../../store/paths';
import { useApp, useSend } from '../../store/store';
import { looked } from '../../store/view';
import { setValue } from '../edit';
import { useSession } from '../session';

/** Screen pixels about a touch over which the colour is taken: one pixel is as much noise as hue. */
const AROUND = 5;

/** Path of the chosen mask, where it goes by a hue. */
function hueMask(recipe: Recipe, chosen: string): string | undefined {
  const owner = ownerAt(recipe, chosen);
  return owner?.kind === 'mask' && (valueAt(recipe, owner.path) as Mask).hue ? owner.path : undefined;
}

/**
 * The touch that tells a mask which hue is meant. Until it comes, the picture shows what the mask is made of.
 * @param zoom screen pixels a frame pixel
 */
export function useHueTouch(zoom: number): {
  /** Path of what is to be seen while the touch is waited for. */
  readonly path: string | undefined;
  /** Takes a touch; false where none is waited for. */
  onDrag(at: Spot, phase: 'down' | 'move' | 'up'): boolean;
} {
  const { recipe, chosen } = useApp((state) => state.draft);
  const tool = useApp((state) => state.view.tool);
  const { engine, scene } = useSession();
  const send = useSend();
  const mask = tool === 'hue' && recipe ? hueMask(recipe, chosen) : undefined;
  const of = mask === undefined ? undefined : `${mask}.of`;
  const info = of === undefined ? undefined : scene?.paths[of];
  return {
    path: info ? of : undefined,
    onDrag: (at, phase) => {
      if (mask === undefined || of === undefined || !info) return false;
      if (phase !== 'up') return true;
      const size = Math.max(1, Math.round(AROUND / zoom));
      const rect = { x: Math.round(at.x - size / 2), y: Math.round(at.y - size / 2), width: size, height: size };
      void engine.ask({ type: 'region', rect, paths: [of] }).then(({ planes }) => {
        const [r, g, b] = (planes[of] ?? []).map(({ median }) => (info.domain === 'linear' ? median : decoded(median)));
        const [, , hue] = oklchOf([r, g, b]);
        if (Number.isFinite(hue)) setValue(`${mask}.hue.centre`, Math.round(hue));
        send(looked({ tool: null }));
      });
      return true;
    },
  };
}
