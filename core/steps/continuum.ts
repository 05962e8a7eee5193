import { z } from 'zod';
import { weigh } from '../kernels/weigh';
import { UserError } from '../errors';
import { figureOf, asTone, type FigureSpec } from '../figures/index';
import type { ImageInfo } from '../engine/kernel';
import { type StepPlace, stepKind } from '../engine/step-kind';
import { seeingFigures, seeingKernel } from './match-seeing';

/** An image smoothed to the seeing of another where it is the sharper one. */
const soft = (place: StepPlace, image: ImageInfo, other: ImageInfo): ImageInfo =>
  place.derive({
    kind: 'match-seeing',
    inputs: [image.node],
    planes: 1,
    domain: image.domain,
    extent: image.extent,
    kernel: seeingKernel(image),
    figures: seeingFigures(image, other),
    version: 2,
  });

/**
 * Takes starlight out of a line filter: `N − k·(C − sky(C))`. k is measured (core/continuum), given, or pinned by `hold: { k }`.
 * With `matchSeeing` the sharper of the two is smoothed to the other's FWHM first.
 */
export const continuum = stepKind({
  do: 'continuum',
  version: 1,
  params: z.strictObject({
    broad: z.string(),
    method: z.enum(['stars', 'skewness', 'manual']).default('stars'),
    k: z.number().optional(),
    matchSeeing: z.boolean().default(false),
  }),
  takes: { planes: 'mono', domain: 'linear' },
  gives: { domain: 'same' },
  strands: (p) => [p.broad],
  build: (p, place) => {
    const { input, others, sky, hold, path } = place;
    if (others[0].planes === 3)
      throw new UserError(
        'takes-mono',
        `${p.broad} is in colour; name a mono broadband strand, or make one by formula, such as luminance(${p.broad}).`,
        `${path}.broad`,
      );
    if (others[0].node === input.node)
      throw new UserError(
        'continuum-itself',
        'the broadband image is the line image itself, so nothing would be left; name a broadband strand.',
        `${path}.broad`,
      );
    const line = p.matchSeeing ? soft(place, input, others[0]) : input;
    const broad = p.matchSeeing ? soft(place, others[0], input) : others[0];
    const given = typeof hold?.k === 'number' ? hold.k : p.k;
    if (p.method === 'manual' && given === undefined)
      throw new UserError(
        'continuum-k',
        'by hand the step needs k, how much of the broadband image is taken off; give k, or choose stars.',
        `${path}.k`,
      );
    const level: FigureSpec = { kind: 'tone', nodes: [broad.node], region: sky };
    const measured: FigureSpec[] =
      given === undefined && p.method !== 'manual'
        ? [{ kind: 'continuum', nodes: [line.node, broad.node], method: p.method }]
        : [];
    return {
      kernel: {
        bind: ([tone, figure]) => {
          const k = given ?? figureOf('continuum', figure).k;
          const base = asTone(tone)[0].sky;
          return ([n, c], out) => void weigh([n.planes[0], c.planes[0]], [1, -k], k * base, out.planes[0]);
        },
        describe: ([tone, figure]) => {
          const base = { sky: asTone(tone)[0].sky };
          if (given !== undefined)
            return { method: typeof hold?.k === 'number' ? 'held' : 'manual', k: given, ...base };
          const { method, k, kError, stars, belowSky, starlit } = figureOf('continuum', figure);
          return { method, k, kError, stars, belowSky, starlit, ...base };
        },
      },
      from: line.node,
      reads: [broad.node],
      figures: [level, ...measured],
      planes: 1,
      extent: input.extent,
    };
  },
});
