import { type StepOwner, stepOwnerAt } from '@owl-loom/recipe/walk';
import type { Recipe } from '@owl-loom/recipe/schema';
import { stepLocation, stepAt, maskAt } from '@owl-loom/recipe/paths';
import { store } from '../../store/store';
import { type Brush, viewChanged } from '../../store/view';
import { setValue } from '../../document/edit';
import { type Paint, shapeOf, tenth } from './shapes';

/** Where the pen is, in frame pixels, and how hard it is pressed; a mouse knows only one way. */
export interface PenSpot {
  readonly x: number;
  readonly y: number;
  readonly pressure?: number;
}

/** Places of the pen nearer to each other than this share of the radius say nothing new. */
const NEAR = 0.1;

/** The way of the pen with one place more, where that says anything new. */
export function appendPoint(way: readonly PenSpot[], spot: PenSpot, radius: number): readonly PenSpot[] {
  const last = way[way.length - 1];
  const near = last && Math.hypot(spot.x - last.x, spot.y - last.y) < Math.max(0.5, NEAR * radius);
  return near ? way : [...way, spot];
}

/** A stroke as the recipe has it. */
export const strokeOf = (way: readonly PenSpot[], { mode, radius, soft, strength }: Brush): Paint => ({
  mode,
  ...(strength < 1 && { strength }),
  ...(soft > 0 && { soft: tenth(soft) }),
  shape: 'stroke',
  radius: tenth(radius),
  points: way.map(({ x, y, pressure }) =>
    pressure === undefined ? [tenth(x), tenth(y)] : [tenth(x), tenth(y), Math.round(100 * pressure) / 100],
  ),
});

/** The mask that is painted on where a path is chosen: the mask itself, not one of its steps. */
export function paintedMask(recipe: Recipe, chosen: string): StepOwner | undefined {
  const owner = stepLocation(chosen) ? undefined : stepOwnerAt(recipe, chosen);
  return owner?.kind === 'mask' ? owner : undefined;
}

/** What is painted on a mask so far. */
export const paintOf = (recipe: Recipe, { path }: StepOwner): readonly Paint[] => maskAt(recipe, path)?.paint ?? [];

/** Puts other strokes and shapes on a mask, and none in hand. */
export function putPaint(mask: StepOwner, paint: readonly Paint[]): void {
  store.dispatch(viewChanged({ selectedShape: null }));
  setValue(`${mask.path}.paint`, paint.length > 0 ? paint : undefined);
}

/** What strokes are laid on: where the recipe keeps them, those that are there, and how a new one is said. */
interface Paper {
  readonly path: string;
  readonly strokes: readonly unknown[];
  /** Whether other shapes than strokes can be laid on it. */
  readonly shapes: boolean;
  /** What was drawn, as the recipe has it; nothing where the hand only slipped. */
  readonly stroke: (way: readonly PenSpot[], brush: Brush, grain: number) => unknown;
}

/** A stroke over a blemish as the recipe has it. */
const overBlemish = (way: readonly PenSpot[], { radius }: Brush) => ({
  radius: tenth(radius),
  points: way.map(({ x, y }) => [tenth(x), tenth(y)]),
});

/** What the brush paints on where a path is chosen: a mask, or the blemishes of a step that mends. */
export function paintTargetOf(recipe: Recipe, chosen: string): Paper | undefined {
  const mask = paintedMask(recipe, chosen);
  if (mask)
    return {
      path: `${mask.path}.paint`,
      strokes: paintOf(recipe, mask),
      shapes: true,
      stroke: (way, brush, grain) => (brush.shape === 'stroke' ? strokeOf(way, brush) : shapeOf(way, brush, grain)),
    };
  const step = stepAt(recipe, chosen);
  if (step?.do !== 'mend') return undefined;
  const strokes = Array.isArray(step.strokes) ? (step.strokes as unknown[]) : [];
  return { path: `${chosen}.strokes`, strokes, shapes: false, stroke: overBlemish };
}

/** A brush a little larger or smaller, within what a picture can use. */
export const resized = (brush: Brush, by: number): Brush => {
  const radius = Math.min(2000, Math.max(1, brush.radius * by));
  return { ...brush, radius, soft: (brush.soft * radius) / brush.radius };
};
