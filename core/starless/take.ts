import { saturationOf } from '../stats/saturation';
import { firstWhere } from '../stats/sorted';
import { medianInPlace } from '../stats/select';
import { borderPeaks } from '../mend/border';
import type { Circle } from '../mend/fill';
import { findPeaks } from '../stars/peaks';
import { apertureFor } from '../stars/photometry';
import type { StarField } from '../stars/field';
import { type Common, commonOf, type Field, ringFor, type Sighted } from './common';
import { discAt } from './disc';
import { gapOf } from './gap';
import { fitLight, layLight, type Light, type Seeing } from './fit';
import { ABOVE, isStar } from './tell';

/** One star as it is taken out of an image of one or three planes. */
export interface Taken {
  /** Its light in each plane; none where a plane does not show it. */
  readonly lights: readonly (Light | undefined)[];
  /** Within this of its middle nothing of the image can be saved: it is filled from around. 0 where taking its light off is enough. */
  readonly gap: number;
}

export interface TakeFrom {
  readonly planes: readonly Float32Array[];
  readonly width: number;
  readonly height: number;
  /** Width, wings and noise of each plane's stars. */
  readonly fields: readonly Omit<StarField, 'stars'>[];
  /** In pixels of the planes. */
  readonly stars: readonly Sighted[];
  readonly stretched: boolean;
  /** Stars that are to stay: they are fitted, so that their neighbours can be, and put back. */
  readonly isSpared?: (star: { readonly x: number; readonly y: number }) => boolean;
}

/** Stars of a stretched image look alike only where they are alike bright: each class is so many times brighter than the next. */
const CLASS = 3;
/** Fewest stars of a class. */
const ENOUGH = 12;

/** The profile that fits each star. */
function commonsOf(field: Field, stars: readonly Sighted[], stretched: boolean): (star: Sighted) => Common {
  const { radius } = apertureFor(field.fwhm);
  if (!stretched) {
    const one = commonOf(field, stars, radius);
    return () => one;
  }
  const classes: { from: number; common: Common }[] = [];
  let own: Sighted[] = [];
  for (const star of stars) {
    own.push(star);
    const [{ peak }] = own;
    if (own.length < ENOUGH || star.peak > peak / CLASS) continue;
    classes.push({ from: star.peak, common: commonOf(field, own, radius) });
    own = [];
  }
  classes.push({
    from: 0,
    common:
      own.length >= ENOUGH || classes.length === 0 ? commonOf(field, own, radius) : classes[classes.length - 1].common,
  });
  return (star) => (classes.find(({ from }) => star.peak >= from) ?? classes[classes.length - 1]).common;
}

/** Rounds in which stars are looked for that only show when others have been taken off. */
const MORE = 3;
/** A star beside another shows more than this share of what was taken off there. */
const BESIDE = 0.25;
/** Peaks of the smoothed rest that are looked at, in units of its scatter. */
const PEAKS = 3.5;

/** The work on one plane: its pixels without the light that has been found so far. */
class Plane {
  readonly rest: Float32Array;
  private readonly plane: Float32Array;
  readonly seen: Omit<Seeing, 'common'>;
  readonly lights: (Light | undefined)[] = [];
  private readonly sighted: Sighted[] = [];
  private readonly commonFor: (star: Sighted) => Common;

  constructor(
    private readonly from: TakeFrom,
    p: number,
  ) {
    const { width, height, stars, stretched, fields } = from;
    const plane = from.planes[p];
    this.plane = plane;
    this.rest = plane.slice();
    const field: Field = { ...fields[p], plane: this.rest, width, height };
    this.seen = { field, stretched, ceiling: saturationOf(plane) };
    for (const star of stars) this.sighted.push(sightedIn(star, field));
    const ranked = [...this.sighted].sort((a, b) => b.flux - a.flux);
    this.commonFor = commonsOf(field, ranked, stretched);
  }

  private seeing = (star: Sighted): Seeing => ({ ...this.seen, common: this.commonFor(star) });

  /** Adds a star that has been found since. */
  add(star: Sighted): void {
    this.sighted.push(sightedIn(star, this.seen.field));
  }

  /**
   * Fits stars anew, each with all others taken off.
   * @param added those with places from here on are new: only they and their neighbours are fitted
   */
  fit(added = 0): void {
    const { width, height } = this.from;
    const near = added === 0 ? undefined : this.neighboursOf(added);
    const order = this.sighted
      .map((_, i) => i)
      .filter((i) => !near || i >= added || near(i))
      .sort((a, b) => this.sighted[b].flux - this.sighted[a].flux);
    for (const i of order) {
      const [star, before] = [this.sighted[i], this.lights[i]];
      if (before) layLight(this.rest, width, height, before, 1);
      const found = fitLight(star, this.seeing(star), before) ?? before;
      this.lights[i] = found;
      if (found) layLight(this.rest, width, height, found, -1);
    }
  }

  /** Puts a star's light back where it was. */
  giveBack(i: number): void {
    const light = this.lights[i];
    if (light) layLight(this.rest, this.from.width, this.from.height, light, 1);
  }

  /** Whether a star's light or its ground reaches one that is new. */
  private neighboursOf(added: number): (i: number) => boolean {
    const fresh = this.sighted.slice(added).sort((a, b) => a.y - b.y);
    return (i) => {
      const light = this.lights[i];
      if (!light) return true;
      const reach = light.reach + ringFor(light.reach);
      const first = firstWhere(0, fresh.length, (k) => fresh[k].y >= light.y - reach);
      for (let k = first; k < fresh.length && fresh[k].y <= light.y + reach; k++)
        if (Math.hypot(fresh[k].x - light.x, fresh[k].y - light.y) <= reach) return true;
      return false;
    };
  }

  gap(i: number): number {
    const light = this.lights[i];
    return light ? gapOf(light, this.seen, this.sighted[i].saturated) : 0;
  }

  /** Stars in what is left: peaks that the field's profile fits and that stand above the scatter about them. */
  more(covered: (x: number, y: number) => boolean, sensitivity: number, atBorder: boolean): Sighted[] {
    const { field } = this.seen;
    const { width, height, noise, fwhm } = field;
    const { radius } = apertureFor(fwhm);
    const sky = medianInPlace(sampled(this.rest));
    const found: Sighted[] = [];
    const peaks = [
      ...findPeaks(this.rest, width, height, PEAKS / sensitivity).peaks,
      ...(atBorder ? borderPeaks(this.rest, width, height, sky + (2 * ABOVE * noise) / sensitivity, radius) : []),
    ];
    for (const { x, y } of peaks) {
      const rough = sightedIn({ x, y, peak: 0, flux: 0, saturated: false }, field);
      // What little is left where a star was is no other star.
      const gone = this.plane[y * width + x] - this.rest[y * width + x];
      if (covered(x, y) && !(rough.peak > BESIDE * gone)) continue;
      const seen = this.seeing(rough);
      const start = { ...rough, flux: rough.peak / seen.common.table[0] };
      const light = fitLight(start, seen);
      if (!light || !isStar(light, seen, sensitivity)) continue;
      found.push({ ...start, x: light.x, y: light.y });
    }
    return found;
  }
}

/**
 * Finds the light of each star in each plane, brighter ones first and twice over: the second time with all neighbours taken off. Then it looks
 * in what is left for stars that no list has: beside others, in gas, at the border.
 * @param sensitivity 1; less takes only what is surely a star, more takes what might be one
 * @returns the stars, and the planes without their light, gaps still to be filled
 */
export function takeStars(from: TakeFrom, sensitivity = 1): { taken: Taken[]; left: Float32Array[] } {
  const planes = from.planes.map((_, p) => new Plane(from, p));
  const all = (deed: (plane: Plane) => void) => planes.forEach(deed);
  let count = from.stars.length;
  const gaps = (): number[] =>
    Array.from({ length: count }, (_, i) => Math.max(...planes.map((plane) => plane.gap(i))));
  const place = (i: number) => planes.map(({ lights }) => lights[i]).find((light) => light !== undefined);
  all((plane) => plane.fit());
  all((plane) => plane.fit());
  for (let round = 0; round < MORE; round++) {
    const circles = gaps().flatMap((gap, i): Circle[] => {
      const at = place(i);
      return at ? [[at.x, at.y, Math.max(gap, 0.7 * planes[0].seen.field.fwhm)]] : [];
    });
    const covered = coverOf(circles, from.width, from.height);
    const more: Sighted[] = [];
    for (const plane of planes) {
      const near = 0.7 * plane.seen.field.fwhm;
      for (const star of plane.more(covered, sensitivity, round === 0))
        if (!more.some((other) => Math.hypot(other.x - star.x, other.y - star.y) < near)) more.push(star);
    }
    if (more.length === 0) break;
    for (const star of more) all((plane) => plane.add(star));
    all((plane) => plane.fit(count));
    count += more.length;
  }
  const taken = gaps().flatMap((gap, i): Taken[] => {
    const at = place(i);
    if (!at) return [];
    if (!from.isSpared?.(at)) return [{ lights: planes.map(({ lights }) => lights[i]), gap }];
    all((plane) => plane.giveBack(i));
    return [];
  });
  return { taken, left: planes.map(({ rest }) => rest) };
}

/** The circles to be filled, in pixels of the planes. */
export const gapCircles = (taken: readonly Taken[]): Circle[] =>
  taken.flatMap(({ lights, gap }): Circle[] => {
    const at = lights.find((light) => light !== undefined);
    return at && gap > 0 ? [[at.x, at.y, gap]] : [];
  });

/** Some pixels of a plane that have data. */
function sampled(plane: Float32Array): Float32Array {
  const step = Math.max(1, Math.floor(plane.length / 5000));
  return Float32Array.from({ length: Math.floor(plane.length / step) }, (_, k) => plane[k * step]).filter(
    (v) => v === v,
  );
}

/** Whether a place lies in one of many circles. */
function coverOf(circles: readonly Circle[], width: number, height: number): (x: number, y: number) => boolean {
  const marked = new Uint8Array(width * height);
  for (const [cx, cy, radius] of circles) {
    for (let y = Math.max(0, Math.ceil(cy - radius)); y <= Math.min(height - 1, cy + radius); y++) {
      for (let x = Math.max(0, Math.ceil(cx - radius)); x <= Math.min(width - 1, cx + radius); x++)
        if ((x - cx) ** 2 + (y - cy) ** 2 <= radius * radius) marked[y * width + x] = 1;
    }
  }
  return (x, y) => marked[y * width + x] === 1;
}

/** A star as one plane shows it: of a colour image the list tells one plane's heights. */
function sightedIn(star: Sighted, { plane, width, height, noise, fwhm }: Field): Sighted {
  const { radius } = apertureFor(fwhm);
  const disc = discAt(plane, width, height, star.x, star.y, radius + 4);
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
