import type { Triple } from '@owl-loom/base/triple';
import { expectBackground } from '../measurements/index';
import { weightedSum } from '@owl-loom/image/kernels/weighted-sum';
import { UserError } from '@owl-loom/base/errors';
import { implementStep } from './step-implementation';
import { unmix as spec } from '@owl-loom/recipe/steps/unmix';

const cross = (a: Triple, b: Triple): Triple => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

const dot = (a: Triple, b: Triple): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

const times = (a: Triple, by: number): Triple => [a[0] * by, a[1] * by, a[2] * by];

/** Responses nearer to one plane than this share of their lengths would turn noise into light. */
const FLAT = 0.02;

/** A light that is seen less than this is not seen. */
const DARK = 1e-6;

/**
 * Rows of the matrix that takes red, green and blue, each above its sky, back to the three lights that made them (Cramer's rule).
 * @param third what is left, square to the other two, where nothing is given
 * @returns undefined where the responses are too much alike
 */
export function invertResponse(
  first: Triple,
  second: Triple,
  third?: Triple,
): readonly [Triple, Triple, Triple] | undefined {
  const normal = cross(first, second);
  const length = Math.sqrt(dot(normal, normal));
  const last = third ?? times(normal, 1 / length);
  const volume = dot(normal, last);
  const lengths = [first, second, last].map((light) => Math.sqrt(dot(light, light)));
  if (!(Math.min(...lengths) > DARK && Math.abs(volume) > FLAT * lengths[0] * lengths[1] * lengths[2]))
    return undefined;
  return [times(cross(second, last), 1 / volume), times(cross(last, first), 1 / volume), times(normal, 1 / volume)];
}

/**
 * Parts the light of a colour camera behind a filter with two windows: red becomes the first line, green the second, blue the third light, or
 * what neither of the two explains. `first`, `second` and `third` are what the camera's red, green and blue see of each. Each plane keeps its sky.
 */
export const unmixStep = implementStep(spec, {
  version: 1,
  build: (p, { input, sky, path }) => {
    const rows = invertResponse(p.first, p.second, p.third);
    if (!rows)
      throw new UserError(
        'unmix-alike',
        'The responses are too similar to separate the lines. Enter responses that differ more.',
        `${path}.second`,
      );
    return {
      kernel: {
        prepare: ([tone]) => {
          const skies = expectBackground(tone).map((t) => t.sky);
          return ([from], out) => {
            out.planes.forEach((to, k) => {
              const [x, y, z] = rows[k];
              const add = skies[k] - x * skies[0] - y * skies[1] - z * skies[2];
              weightedSum(from.planes, [x, y, z], add, to);
            });
          };
        },
        report: ([tone]) => ({ sky: expectBackground(tone).map((t) => t.sky), rows: rows.map((row) => [...row]) }),
      },
      figures: [{ kind: 'tone', nodes: [input.node], region: sky }],
      planes: 3,
      extent: input.extent,
    };
  },
});
