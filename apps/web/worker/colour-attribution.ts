import { rectAtLevel, levelForPixels } from '@owl-loom/image/pyramid/pyramid';
import { intersect, isEmpty, type Rect } from '@owl-loom/image/geometry/rect';
import type { Raster } from '@owl-loom/image/raster/raster';
import type { Layer, Recipe } from '@owl-loom/recipe/schema';
import {
  layersOfList,
  isPathInside,
  maskOwners,
  type StepOwner,
  stepOwners,
  strandPath,
  strandDependencies,
} from '@owl-loom/recipe/walk';
import { apportionChange } from '@owl-loom/algorithms/attribution/apportion';
import { withKey } from '@owl-loom/engine/measurement-plan';
import type { OriginReply, AttributionRow } from './protocol';
import type { RecipeEvaluator } from './recipe-evaluator';

/** Pixels of a rectangle up to which it is looked at in full size. */
const PIXELS = 40_000;

/** The mean of each plane over the pixels that have data; 0 where none has. */
function meanOf({ planes }: Raster): number[] {
  return planes.map((plane) => {
    let [sum, count] = [0, 0];
    for (const v of plane) {
      if (v !== v) continue;
      sum += v;
      count++;
    }
    return count > 0 ? sum / count : 0;
  });
}

/** As three planes. */
const inColour = (mean: readonly number[]): number[] => (mean.length === 3 ? [...mean] : [mean[0], mean[0], mean[0]]);
const less = (a: readonly number[], b: readonly number[]): number[] => a.map((v, p) => v - b[p]);

/** Tells where the colour of a place of the finished cloth comes from. */
export class ColourAttribution {
  private readonly level: number;
  private readonly window: Rect;

  constructor(
    private readonly evaluator: RecipeEvaluator,
    private readonly recipe: Recipe,
    rect: Rect,
  ) {
    this.level = levelForPixels(rect, PIXELS);
    this.window = rectAtLevel(intersect(rect, evaluator.graph.frame), this.level);
  }

  /**
   * What each layer and each finishing step adds, in the order in which they lie: the changes add up to the colour that is seen. Those of a
   * layer are shared out among the strands that it reads.
   */
  async reply(): Promise<OriginReply | null> {
    const { byPath } = this.evaluator.graph;
    const cloth = byPath.get('cloth');
    if (cloth === undefined || isEmpty(this.window)) return null;
    const { layers = [], steps = [] } = this.recipe.cloth ?? {};
    const rows: AttributionRow[] = [];
    let before = [0, 0, 0];
    const add = async (path: string, image: string, mask: Layer['mask'], layer?: StepOwner): Promise<void> => {
      const node = byPath.get(image);
      if (node === undefined) return;
      const after = await this.colourAt(node);
      const change = less(after, before);
      const strands = layer ? await this.strandsOf(layer, change) : [];
      rows.push({ path, change, mask: await this.maskAt(mask, `${path}.mask`), strands });
      before = after;
    };
    for (const [i, layer] of layersOfList(this.recipe, 'cloth.layers').entries())
      if (layer.visible) await add(layer.path, `${layer.path}@cloth`, layers[i].mask, layer);
    for (const [i, { mask }] of steps.entries()) await add(`cloth.steps[${i}]`, `cloth.steps[${i}]`, mask);
    return { colour: before, level: this.level, rows };
  }

  /** What a mask lets through here, held to 0–1; null where there is none, or where it cannot be made. */
  private async maskAt(mask: Layer['mask'], inPlace: string): Promise<number | null> {
    const path = typeof mask === 'string' ? maskOwners(this.recipe).find(({ id }) => id === mask)?.path : inPlace;
    const node = mask === undefined || path === undefined ? undefined : this.evaluator.graph.byPath.get(path);
    return node === undefined ? null : Math.min(1, Math.max(0, (await this.colourAt(node))[0]));
  }

  private async colourAt(node: number): Promise<number[]> {
    await this.evaluator.settle(node);
    return inColour(meanOf(await this.evaluator.compute(node, this.window, this.level)));
  }

  /**
   * A layer's change among the strands that it reads: by what the layer loses without each. A linear layer is without a strand where that is
   * 0, another where it is its sky, since a stretch makes what it makes of a strand from its sky on.
   */
  private async strandsOf(layer: StepOwner, change: number[]): Promise<AttributionRow['strands']> {
    const { graph } = this.evaluator;
    const node = graph.byPath.get(layer.path);
    const ids = this.readBy(layer);
    if (node === undefined || ids.length === 0) return [];
    const linear = graph.nodes[node].domain === 'linear';
    const whole = await this.colourAt(node);
    const parts: number[][] = [];
    for (const { index } of ids) {
      const flat = linear ? [0] : await this.skyOf(index);
      const without = await this.evaluator.computeWithConstant(node, this.window, this.level, index, flat);
      parts.push(less(whole, inColour(meanOf(without))));
    }
    const shares = apportionChange(change, parts);
    return ids.map(({ id, path }, i) => ({ id, path, share: shares[i] }));
  }

  /** The strands that a layer reads, by its own source or those of the layers within it. */
  private readBy(layer: StepOwner): { id: string; path: string; index: number }[] {
    const inside = [...stepOwners(this.recipe)].filter(
      ({ kind, path }) => kind === 'layer' && isPathInside(path, layer.path),
    );
    return [...new Set(inside.flatMap(strandDependencies))].flatMap((id) => {
      const path = strandPath(this.recipe, id);
      const index = path === undefined ? undefined : this.evaluator.graph.byPath.get(path);
      return path === undefined || index === undefined ? [] : [{ id, path, index }];
    });
  }

  private async skyOf(node: number): Promise<number[]> {
    await this.evaluator.settle(node);
    const figure = await this.evaluator.figure(
      withKey(this.evaluator.graph, { kind: 'tone', nodes: [node] }),
      new Set(),
    );
    return figure.kind === 'tone' ? figure.planes.map(({ sky }) => sky) : [0];
  }
}
