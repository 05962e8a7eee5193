import { drifted, type Drifted, driftOf } from '../../core/colour/drift';
import type { Domain } from '../../core/engine/kernel';
import { fullRect, levelRect, levelWithin } from '../../core/raster/levels';
import type { Raster } from '../../core/raster/raster';
import { intersect, type Rect } from '../../core/raster/rect';
import type { Weaver } from './weaver';

/** Pixels of the level on which colours are counted: with a hand at a slider they are counted after every picture. */
export const COLOUR_PIXELS = 40_000;

/** A place of the finished cloth that is to stay as it is, and how far it has moved. */
export class Guard {
  /** How the cloth was. */
  private reference: { level: number; raster: Raster; domain: Domain } | undefined;

  constructor(private readonly weaver: Weaver) {}

  /** Takes the cloth in a rectangle of full-size pixels as it is now; where it cannot be made, nothing is guarded. */
  async over(rect: Rect | null): Promise<null> {
    this.reference = undefined;
    const { frame } = this.weaver.graph;
    const node = this.node;
    if (!rect || node === undefined) return null;
    const level = levelWithin(rect, COLOUR_PIXELS);
    this.reference = { level, ...(await this.cloth(node, levelRect(intersect(rect, frame), level), level)) };
    return null;
  }

  /** How far that has moved; null where nothing is guarded, or the cloth cannot be made just now. */
  async moved(): Promise<Drifted | null> {
    const { reference, node } = this;
    if (!reference || node === undefined) return null;
    const { raster, domain } = await this.cloth(node, reference.raster.rect, reference.level);
    const drift = driftOf(reference.raster, raster, [reference.domain, domain]);
    const told = drifted(drift, raster.rect, 'hue');
    return { ...told, most: told.most && fullRect(told.most, reference.level) };
  }

  private get node(): number | undefined {
    return this.weaver.graph.byPath.get('cloth');
  }

  private async cloth(node: number, window: Rect, level: number): Promise<{ raster: Raster; domain: Domain }> {
    await this.weaver.settle(node);
    const { domain } = this.weaver.graph.nodes[node];
    return { raster: await this.weaver.compute(node, window, level), domain };
  }
}
