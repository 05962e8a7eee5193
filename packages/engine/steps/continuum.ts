import { UserError } from '@owl-loom/base/errors';
import { expectBackground, type Measurement, type MeasurementSpec, expectKind } from '../measurements/index';
import { weightedSum } from '@owl-loom/image/kernels/weighted-sum';
import { inpaintCircles, inpaintSourceRect } from '@owl-loom/algorithms/inpaint/harmonic-fill';
import { rectAtLevel } from '@owl-loom/image/pyramid/pyramid';
import { cropPlane } from '@owl-loom/image/raster/raster';
import { intersect } from '@owl-loom/image/geometry/rect';
import type { ImageInfo } from '../node-kernel';
import { implementStep, type StepContext } from './step-implementation';
import { seeingFigures, seeingKernel, softening } from './match-seeing';
import { continuum as spec } from '@owl-loom/recipe/steps/continuum';

/**
 * An image smoothed to the seeing of another where it is the sharper one. Its stars are those that it had before, told apart better than
 * in the smoothed image, and as much wider as the other's are.
 */
const soft = (place: StepContext, image: ImageInfo, other: ImageInfo): ImageInfo =>
  place.addIntermediate({
    kind: 'match-seeing',
    inputs: [image.node],
    planes: 1,
    domain: image.domain,
    extent: image.extent,
    kernel: {
      ...seeingKernel(image),
      starSources: [{ input: 0, plane: 0, by: 1 }],
      starBlur: softening,
    },
    figures: seeingFigures(place.withStars(image), place.withStars(other)),
    version: 3,
  });

/**
 * Takes starlight out of a line filter: `N − k·(C − sky(C))`. k is measured (packages/algorithms/continuum), given, or pinned by `hold: { k }`.
 * With `matchSeeing` the sharper of the two is smoothed to the other's FWHM first. With `mend` what is left of stars is filled from around
 * (packages/algorithms/inpaint).
 */
export const continuumStep = implementStep(spec, {
  version: 2,
  build: (p, place) => {
    const { input, others, sky, hold, path } = place;
    if (others[0].planes === 3)
      throw new UserError(
        'takes-mono',
        `${p.broad} is in colour. Choose a mono broadband strand, or make one with a formula such as luminance(${p.broad}).`,
        `${path}.broad`,
      );
    if (others[0].node === input.node)
      throw new UserError(
        'continuum-itself',
        'Line and broadband are the same image. Choose a broadband strand.',
        `${path}.broad`,
      );
    const line = p.matchSeeing ? soft(place, input, others[0]) : input;
    const broad = p.matchSeeing ? soft(place, others[0], input) : others[0];
    const given = typeof hold?.k === 'number' ? hold.k : p.k;
    if (p.method === 'manual' && given === undefined)
      throw new UserError(
        'continuum-k',
        'The method “manual” needs k, the share of the broadband image to subtract. Set k, or choose stars.',
        `${path}.k`,
      );
    const nodes = [line.node, broad.node] as const;
    const level: MeasurementSpec = { kind: 'tone', nodes: [broad.node], region: sky };
    const starry = [place.withStars(line).node, place.withStars(broad).node] as const;
    const lacksStars = starry.some((node, i) => node !== nodes[i]);
    const measured = given === undefined && p.method !== 'manual' ? p.method : undefined;
    const figures: MeasurementSpec[] = [
      level,
      ...(measured ? [{ kind: 'continuum' as const, nodes: starry, method: measured }] : []),
      ...(p.mend
        ? [
            {
              kind: 'remains' as const,
              nodes: lacksStars ? ([...nodes, ...starry] as const) : nodes,
              k: measured ?? given ?? 0,
            },
          ]
        : []),
    ];
    const kOf = (known: readonly Measurement[]): number => given ?? expectKind('continuum', known[1]).k;
    const circlesOf = (known: readonly Measurement[]) => expectKind('remains', known.at(-1)).circles;
    return {
      kernel: {
        ...(p.mend && {
          inputRoi: (rect, onLevel, _, known) =>
            intersect(inpaintSourceRect(rect, circlesOf(known), onLevel), rectAtLevel(input.extent, onLevel)),
        }),
        prepare: (known, onLevel) => {
          const k = kOf(known);
          const base = expectBackground(known[0])[0].sky;
          const subtract = (n: Float32Array, c: Float32Array, to: Float32Array) =>
            weightedSum([n, c], [1, -k], k * base, to);
          if (!p.mend) return ([n, c], out) => void subtract(n.planes[0], c.planes[0], out.planes[0]);
          return ([n, c], out) => {
            const left = new Float32Array(n.planes[0].length);
            subtract(n.planes[0], c.planes[0], left);
            out.planes[0].set(cropPlane(left, n.rect, out.rect));
            inpaintCircles(left, n.rect, out.planes[0], out.rect, circlesOf(known), onLevel);
          };
        },
        report: (known) => {
          const rest = { sky: expectBackground(known[0])[0].sky, ...(p.mend && { mended: circlesOf(known).length }) };
          if (given !== undefined)
            return { method: typeof hold?.k === 'number' ? ('held' as const) : ('manual' as const), k: given, ...rest };
          const { method, k, kError, stars, belowSky, starlit } = expectKind('continuum', known[1]);
          return { method, k, kError, stars, belowSky, starlit, ...rest };
        },
      },
      from: line.node,
      reads: [broad.node],
      figures,
      planes: 1,
      extent: input.extent,
      removesStars: true,
    };
  },
});
