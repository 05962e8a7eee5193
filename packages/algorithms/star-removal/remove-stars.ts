import type { Circle } from '../inpaint/harmonic-fill';
import { annulusWidth, type DetectedStar } from './shared-profile';
import { medianOfList } from '@owl-loom/image/stats/median';
import { planeNoise } from '@owl-loom/image/stats/noise';
import type { StarModel } from './fit';
import { PlaneStarRemover, type StarRemovalInput } from './plane-remover';
import type { Spike } from './spike';

/** One star as it is taken out of an image of one or three planes. */
export interface RemovedStar {
  /** Its light in each plane; none where a plane does not show it. */
  readonly lights: readonly (StarModel | undefined)[];
  /** The spikes that it throws in each plane. */
  readonly spikes: readonly (readonly Spike[])[];
  /** Within this of its middle nothing of the image can be saved: it is filled from around. 0 where taking its light off is enough. */
  readonly gap: number;
}

/** Rounds in which stars are looked for that only show when others have been taken off. */
const MORE = 3;

/**
 * Finds the light of each star in each plane, brighter ones first and twice over: the second time with all neighbours taken off, and with
 * the spikes that the brightest throw. Then it looks in what is left for stars that no list has: beside others, in gas, at the border.
 * @param sensitivity 1; less takes only what is surely a star, more takes what might be one
 * @returns the stars, and the planes without their light, gaps still to be filled
 */
export function removeStars(from: StarRemovalInput, sensitivity = 1): { taken: RemovedStar[]; left: Float32Array[] } {
  const planes = from.planes.map((_, p) => new PlaneStarRemover(from, p));
  const all = (deed: (plane: PlaneStarRemover) => void) => planes.forEach(deed);
  let count = from.stars.length;
  const gaps = (): number[] =>
    Array.from({ length: count }, (_, i) => Math.max(...planes.map((plane) => plane.gap(i))));
  const place = (i: number) => planes.map(({ lights }) => lights[i]).find((light) => light !== undefined);
  all((plane) => plane.fitBright());
  const vanes = planes.map((plane) => plane.spikeDirections());
  // What a telescope does to one plane it does to the others.
  const shown = vanes.find((own) => own !== undefined);
  const spikes = (): void => planes.forEach((plane, p) => shown && plane.takeSpikes(vanes[p] ?? shown));
  spikes();
  all((plane) => plane.fit());
  spikes();
  all((plane) => plane.fit());
  const sum = from.planes.length > 1 ? summed(from) : undefined;
  const about = (i: number): Circle[] =>
    planes.flatMap(({ lights }) => {
      const light = lights[i];
      return light ? [[light.x, light.y, light.reach + annulusWidth(light.reach)] as const] : [];
    });
  let fresh: number[] = [];
  for (let round = 0; round < MORE; round++) {
    // What hides in the noise of each plane may stand out of that of all.
    sum?.residual.set(
      weighed(
        planes.map(({ residual: rest }) => rest),
        from,
      ),
    );
    const circles = gaps().flatMap((gap, i): Circle[] => {
      const at = place(i);
      return at ? [[at.x, at.y, Math.max(gap, 0.7 * planes[0].seen.field.fwhm)]] : [];
    });
    const covered = coverOf(circles, from.width, from.height);
    // Where nothing has changed since the last round, what was no star then is none now.
    const looked = round === 0 ? undefined : coverOf(fresh.flatMap(about), from.width, from.height);
    const more: DetectedStar[] = [];
    for (const plane of sum ? [...planes, sum] : planes) {
      const near = 0.7 * plane.seen.field.fwhm;
      for (const star of plane.findFaintStars(covered, sensitivity, looked))
        if (!more.some((other) => Math.hypot(other.x - star.x, other.y - star.y) < near)) more.push(star);
    }
    if (more.length === 0) break;
    for (const star of more) all((plane) => plane.add(star));
    all((plane) => plane.fit(count));
    fresh = more.map((_, k) => count + k);
    count += more.length;
  }
  // Of all stars, and with all of their neighbours taken off.
  spikes();
  const taken = gaps().flatMap((gap, i): RemovedStar[] => {
    const at = place(i);
    if (!at) return [];
    if (!from.isSpared?.(at))
      return [
        { lights: planes.map(({ lights }) => lights[i]), spikes: planes.map((plane) => plane.spikes[i] ?? []), gap },
      ];
    all((plane) => plane.restoreStar(i));
    return [];
  });
  return { taken, left: planes.map(({ residual: rest }) => rest) };
}

/** The sum of planes, each in units of its noise. */
function weighed(planes: readonly Float32Array[], { fields }: StarRemovalInput): Float32Array {
  const out = new Float32Array(planes[0].length);
  planes.forEach((plane, p) => {
    const by = 1 / fields[p].noise;
    for (let i = 0; i < out.length; i++) out[i] += by * plane[i];
  });
  return out;
}

/** The sum of an image's planes as a plane in which stars are looked for. */
function summed(from: StarRemovalInput): PlaneStarRemover {
  const plane = weighed(from.planes, from);
  const noise = planeNoise(plane, from.width, from.height);
  const middle = (of: (field: StarRemovalInput['fields'][number]) => number) => medianOfList(from.fields.map(of));
  const field = { fwhm: middle(({ fwhm }) => fwhm), beta: middle(({ beta }) => beta), noise };
  return new PlaneStarRemover({ ...from, planes: [plane], fields: [field] }, 0);
}

/** The circles to be filled, in pixels of the planes. */
export const holeCircles = (taken: readonly RemovedStar[]): Circle[] =>
  taken.flatMap(({ lights, gap }): Circle[] => {
    const at = lights.find((light) => light !== undefined);
    return at && gap > 0 ? [[at.x, at.y, gap]] : [];
  });

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
