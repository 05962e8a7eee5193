import type { Triple } from '@owl-loom/base/triple';
import { linearKernel } from '../linear-kernel';
import { expectBackground, expectKind, type Measurement } from '../measurements/index';
import { UserError } from '@owl-loom/base/errors';
import { implementStep } from './step-implementation';
import { calibrate as spec } from '@owl-loom/recipe/steps/calibrate';

/**
 * Colour balance of linear colour: each plane times its gain about its own sky, `sky + g·(x − sky)`, so that the sky takes no tint.
 * Gains are such that the mean star is white, that stars take the colours of the catalogue, or those given by hand; green keeps its own.
 * `hold: { white: [r, g, b] }` pins them.
 */
export const calibrateStep = implementStep(spec, {
  version: 1,
  build: (p, { input, sky, hold, path, withStars }) => {
    const held =
      Array.isArray(hold?.white) && hold.white.length === 3 ? (hold.white as [number, number, number]) : undefined;
    const given = held ?? (p.method === 'manual' ? p.white : undefined);
    if (p.method === 'manual' && !given)
      throw new UserError(
        'calibrate-white',
        'The method “manual” needs gains for red, green and blue. Set them, or choose stars.',
        `${path}.white`,
      );
    if (p.method === 'catalogue' && !held) {
      if (!input.wcs)
        throw new UserError(
          'calibrate-wcs',
          'The catalogue needs a WCS, and this image has none (missing, or lost by an earlier step). Use stars.',
          `${path}.method`,
        );
      if ('trouble' in input.wcs)
        throw new UserError(
          'calibrate-wcs',
          `The WCS of this image cannot be used: ${input.wcs.trouble}. Use stars.`,
          `${path}.method`,
        );
    }
    const wcs = p.method === 'catalogue' && input.wcs && !('trouble' in input.wcs) ? input.wcs : undefined;
    const gains = (figure: Measurement | undefined): Readonly<Triple> => given ?? expectKind('white', figure).gains;
    return {
      kernel: linearKernel(
        ([tone, figure]) => {
          const g = gains(figure);
          return { a: expectBackground(tone).map((t, k) => t.sky * (1 - g[k])), b: g };
        },
        ([, figure]) => ({
          method: held ? 'held' : p.method,
          white: [...gains(figure)] satisfies Triple,
          ...(!given && { stars: expectKind('white', figure).stars }),
        }),
      ),
      figures: [
        { kind: 'tone', nodes: [input.node], region: sky },
        ...(given ? [] : [{ kind: 'white' as const, nodes: [withStars(input).node] as const, wcs }]),
      ],
      planes: 3,
      extent: input.extent,
    };
  },
});
