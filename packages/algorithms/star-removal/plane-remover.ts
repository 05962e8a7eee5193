import { borderPeaks } from '../inpaint/border';
import { findPeaks } from '../stars/peaks';
import { apertureFor } from '../stars/photometry';
import type { StarField } from '../stars/field';
import { saturationLevel } from '@owl-loom/image/stats/saturation';
import { medianInPlace, quickselect } from '@owl-loom/image/stats/quickselect';
import { partitionPoint } from '@owl-loom/image/stats/sorted';
import { buildSharedProfile, type PlaneField, annulusWidth, type DetectedStar } from './shared-profile';
import { collectDisc } from './disc';
import { fitStarModel, type StarModel, type FitContext } from './fit';
import { inpaintRadius } from './inpaint-radius';
import { addStarLight, addSpikes } from './add-star';
import type { Spike } from './spike';
import { fitSpikes, type SpikePattern, detectSpikePattern } from './spikes';
import { ABOVE, isStar } from './star-test';

/** What stars are taken from. */
export interface StarRemovalInput {
  readonly planes: readonly Float32Array[];
  readonly width: number;
  readonly height: number;
  /** Width, wings and noise of each plane's stars. */
  readonly fields: readonly Omit<StarField, 'stars'>[];
  /** In pixels of the planes. */
  readonly stars: readonly DetectedStar[];
  /** Whether no gap's filling may be brighter than the image was. */
  readonly held?: boolean;
  /** Stars that are to stay: they are fitted, so that their neighbours can be, and put back. */
  readonly isSpared?: (star: { readonly x: number; readonly y: number }) => boolean;
}

/** Stars so many times above the noise are fitted first, and those so far above what they stand on may throw spikes. */
const BRIGHT = 60;
const THROWS = 25;
/** A star beside another shows more than this share of what was taken off there. */
const BESIDE = 0.25;
/** Share of the pixels that are darker than what stands at the border must be. */
const LOWEST = 0.02;
/** Peaks of the smoothed rest that are looked at, in units of its scatter. */
const PEAKS = 3.5;

/** The work on one plane: its pixels without the light that has been found so far. */
export class PlaneStarRemover {
  readonly residual: Float32Array;
  private readonly plane: Float32Array;
  readonly seen: FitContext;
  readonly lights: (StarModel | undefined)[] = [];
  readonly spikes: (readonly Spike[])[] = [];
  /** Where a star stood when its spikes were taken off. */
  private readonly spiked: { readonly x: number; readonly y: number }[] = [];
  private readonly sighted: DetectedStar[] = [];

  constructor(
    private readonly from: StarRemovalInput,
    p: number,
  ) {
    const { width, height, stars, fields } = from;
    const plane = from.planes[p];
    this.plane = plane;
    this.residual = plane.slice();
    const field: PlaneField = { ...fields[p], plane: this.residual, width, height };
    for (const star of stars) this.sighted.push(sightedIn(star, field));
    const ranked = [...this.sighted].sort((a, b) => b.flux - a.flux);
    const common = buildSharedProfile(field, ranked, apertureFor(field.fwhm).radius);
    this.seen = { field, common, ceiling: saturationLevel(plane), held: from.held ?? false };
  }

  /** Adds a star that has been found since. */
  add(star: DetectedStar): void {
    this.sighted.push(sightedIn(star, this.seen.field));
  }

  /**
   * Fits stars anew, each with all others taken off.
   * @param added those with places from here on are new: only they and their neighbours are fitted
   */
  fit(added = 0): void {
    const near = added === 0 ? undefined : this.neighboursOf(added);
    this.fitThose((i) => !near || i >= added || near(i));
  }

  /** Fits the stars that spikes may be seen of, before any light in those is taken for stars. */
  fitBright(): void {
    const { noise } = this.seen.field;
    this.fitThose((i) => this.sighted[i].saturated || this.sighted[i].peak > BRIGHT * noise);
  }

  private fitThose(counts: (i: number) => boolean): void {
    const { width, height } = this.from;
    const order = this.sighted
      .map((_, i) => i)
      .filter(counts)
      .sort((a, b) => this.sighted[b].flux - this.sighted[a].flux);
    for (const i of order) {
      const [star, before] = [this.sighted[i], this.lights[i]];
      if (before) addStarLight(this.residual, width, height, before, 1);
      const found = fitStarModel(star, this.seen, before) ?? before;
      this.lights[i] = found;
      if (found) addStarLight(this.residual, width, height, found, -1);
    }
  }

  /** The directions of the spikes that this plane shows. */
  spikeDirections(): SpikePattern | undefined {
    const found = this.lights.filter((light): light is StarModel => light !== undefined);
    return detectSpikePattern(this.seen.field, found);
  }

  /** Takes spikes off the brighter stars, each star's anew where it had some. */
  takeSpikes(spikeDirections: SpikePattern): void {
    const { width, height } = this.from;
    this.lights.forEach((light, i) => {
      if (!light || !(light.table[0] > THROWS * light.scatter)) return;
      addSpikes(this.residual, width, height, this.spiked[i] ?? light, this.spikes[i] ?? [], 1);
      this.spikes[i] = fitSpikes(this.seen.field, light, spikeDirections);
      this.spiked[i] = light;
      addSpikes(this.residual, width, height, light, this.spikes[i], -1);
    });
  }

  /** Puts a star's light back where it was. */
  restoreStar(i: number): void {
    const light = this.lights[i];
    if (!light) return;
    const { width, height } = this.from;
    addStarLight(this.residual, width, height, light, 1);
    addSpikes(this.residual, width, height, this.spiked[i] ?? light, this.spikes[i] ?? [], 1);
  }

  /** Whether a star's light or its ground reaches one that is new. */
  private neighboursOf(added: number): (i: number) => boolean {
    const fresh = this.sighted.slice(added).sort((a, b) => a.y - b.y);
    return (i) => {
      const light = this.lights[i];
      if (!light) return true;
      const reach = light.reach + annulusWidth(light.reach);
      const first = partitionPoint(0, fresh.length, (k) => fresh[k].y >= light.y - reach);
      for (let k = first; k < fresh.length && fresh[k].y <= light.y + reach; k++)
        if (Math.hypot(fresh[k].x - light.x, fresh[k].y - light.y) <= reach) return true;
      return false;
    };
  }

  gap(i: number): number {
    const light = this.lights[i];
    return light ? inpaintRadius(light, this.seen, this.sighted[i].saturated) : 0;
  }

  /**
   * Stars in what is left: peaks that the field's profile fits and that stand above the scatter about them.
   * @param looked whether a place is looked at again; at first all are, and the border
   */
  findFaintStars(
    covered: (x: number, y: number) => boolean,
    sensitivity: number,
    looked?: (x: number, y: number) => boolean,
  ): DetectedStar[] {
    const { field } = this.seen;
    const { width, height, noise, fwhm } = field;
    const { radius } = apertureFor(fwhm);
    // Gas lies about at many levels: at the border whatever stands above the lowest of them is looked at.
    const some = sampled(this.residual);
    const low = quickselect(some, Math.floor(LOWEST * some.length));
    const found: DetectedStar[] = [];
    const peaks = [
      ...findPeaks(this.residual, width, height, PEAKS / sensitivity).peaks,
      ...(looked ? [] : borderPeaks(this.residual, width, height, low + (2 * ABOVE * noise) / sensitivity, radius)),
    ];
    for (const { x, y } of peaks) {
      if (looked && !looked(x, y)) continue;
      const rough = sightedIn({ x, y, peak: 0, flux: 0, saturated: false }, field);
      // What little is left where a star was is no other star.
      const gone = this.plane[y * width + x] - this.residual[y * width + x];
      if (covered(x, y) && !(rough.peak > BESIDE * gone)) continue;
      const { seen } = this;
      const start = { ...rough, flux: rough.peak / seen.common.table[0] };
      const light = fitStarModel(start, seen);
      if (!light || !isStar(light, seen, sensitivity)) continue;
      found.push({ ...start, x: light.x, y: light.y });
    }
    return found;
  }
}

/** Some pixels of a plane that have data. */
function sampled(plane: Float32Array): Float32Array {
  const step = Math.max(1, Math.floor(plane.length / 5000));
  return Float32Array.from({ length: Math.floor(plane.length / step) }, (_, k) => plane[k * step]).filter(
    (v) => v === v,
  );
}

/** A star as one plane shows it: of a colour image the list tells one plane's heights. */
function sightedIn(star: DetectedStar, { plane, width, height, noise, fwhm }: PlaneField): DetectedStar {
  const { radius } = apertureFor(fwhm);
  const disc = collectDisc(plane, width, height, star.x, star.y, radius + 4);
  const ring: number[] = [];
  for (let i = 0; i < disc.count; i++) if (disc.r[i] > radius + 1) ring.push(disc.v[i]);
  const sky = ring.length > 0 ? medianInPlace(Float32Array.from(ring)) : 0;
  let [flux, peak] = [0, 0];
  for (let i = 0; i < disc.count; i++) {
    if (disc.r[i] > radius) continue;
    flux += disc.v[i] - sky;
    if (disc.r[i] < 1.5) peak = Math.max(peak, disc.v[i] - sky);
  }
  return { ...star, flux: Math.max(flux, 1e-3 * noise), peak: Math.max(peak, noise) };
}
