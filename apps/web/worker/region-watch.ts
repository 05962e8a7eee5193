import { summariseDrift, type DriftSummary, colourDrift } from '@owl-loom/algorithms/colour/drift';
import type { Domain } from '@owl-loom/image/pixel-function';
import { rectAtFullSize, rectAtLevel, levelForPixels } from '@owl-loom/image/pyramid/pyramid';
import type { Raster } from '@owl-loom/image/raster/raster';
import { intersect, type Rect } from '@owl-loom/image/geometry/rect';
import type { RecipeEvaluator } from './recipe-evaluator';

/** Pixels of the level on which colours are counted: with a hand at a slider they are counted after every picture. */
export const COLOUR_PIXELS = 40_000;

/** A place of the finished cloth that is to stay as it is, and how far it has moved. */
export class RegionWatch {
  /** How the cloth was. */
  private reference: { level: number; raster: Raster; domain: Domain } | undefined;

  constructor(private readonly evaluator: RecipeEvaluator) {}

  /** Takes the cloth in a rectangle of full-size pixels as it is now; where it cannot be made, nothing is guarded. */
  async over(rect: Rect | null): Promise<null> {
    this.reference = undefined;
    const { frame } = this.evaluator.graph;
    const node = this.node;
    if (!rect || node === undefined) return null;
    const level = levelForPixels(rect, COLOUR_PIXELS);
    this.reference = { level, ...(await this.cloth(node, rectAtLevel(intersect(rect, frame), level), level)) };
    return null;
  }

  /** How far that has moved; null where nothing is guarded, or the cloth cannot be made just now. */
  async moved(): Promise<DriftSummary | null> {
    const { reference, node } = this;
    if (!reference || node === undefined) return null;
    const { raster, domain } = await this.cloth(node, reference.raster.rect, reference.level);
    const drift = colourDrift(reference.raster, raster, [reference.domain, domain]);
    const summary = summariseDrift(drift, raster.rect, 'hue');
    return { ...summary, most: summary.most && rectAtFullSize(summary.most, reference.level) };
  }

  private get node(): number | undefined {
    return this.evaluator.graph.byPath.get('cloth');
  }

  private async cloth(node: number, window: Rect, level: number): Promise<{ raster: Raster; domain: Domain }> {
    await this.evaluator.settle(node);
    const { domain } = this.evaluator.graph.nodes[node];
    return { raster: await this.evaluator.compute(node, window, level), domain };
  }
}
