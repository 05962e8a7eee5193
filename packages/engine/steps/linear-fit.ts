import { UserError } from '@owl-loom/base/errors';
import { expectKind } from '../measurements/index';
import { perPlaneValues } from '@owl-loom/recipe/schema-primitives';
import { implementStep } from './step-implementation';
import { linearKernel } from '../linear-kernel';
import { linearFitStep as spec } from '@owl-loom/recipe/steps/linear-fit';

/**
 * Brings an image to another strand's brightness: `a + b·x`, a and b measured (see packages/algorithms/linear-fit).
 * `hold: { a, b }` pins them, one number or one a plane.
 */
export const linearFitStep = implementStep(spec, {
  version: 1,
  build: (p, { input, others, sky, hold, path }) => {
    const reference = others[0];
    if (input.planes === 1 && reference.planes === 3) {
      throw new UserError(
        'fit-planes',
        `${p.to} is in colour and this strand is mono. Choose a mono reference.`,
        `${path}.to`,
      );
    }
    const number = (value: unknown) =>
      typeof value === 'number' || Array.isArray(value)
        ? perPlaneValues(value as number | number[], input.planes)
        : undefined;
    const a = number(hold?.a);
    const b = number(hold?.b);
    const pinned = a && b ? { a, b } : undefined;
    return {
      kernel: linearKernel(
        (figures) => {
          const fits = pinned ? [] : expectKind('fit', figures[0]).planes;
          return pinned ?? { a: fits.map((f) => f.a), b: fits.map((f) => f.b) };
        },
        (figures) => {
          if (pinned) return { method: 'held', ...(input.planes === 1 ? { a: pinned.a[0], b: pinned.b[0] } : pinned) };
          const fits = expectKind('fit', figures[0]).planes;
          return fits.length === 1 ? fits[0] : fits;
        },
      ),
      figures: pinned
        ? []
        : [
            {
              kind: 'fit',
              nodes: [input.node, reference.node],
              method: p.method,
              region: p.region,
              sky,
              low: p.low,
              high: p.high,
            },
          ],
      planes: input.planes,
      extent: input.extent,
    };
  },
});
