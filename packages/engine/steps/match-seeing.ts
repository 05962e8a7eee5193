import type { StepReport } from '@owl-loom/recipe/steps/step-spec';
import { peakAfterBlur, matchingBlurSigma } from '@owl-loom/algorithms/continuum/seeing';
import { expectKind, type Measurement, type MeasurementSpec } from '../measurements/index';
import type { ImageInfo, NodeKernel, StarBlur } from '../node-kernel';
import { implementStep } from './step-implementation';
import { gaussianKernel } from './neighbourhood';
import { matchSeeing as spec } from '@owl-loom/recipe/steps/match-seeing';

/** What smoothing an image to another's seeing needs measured: its own, then the other's. */
export const seeingFigures = (image: ImageInfo, other: ImageInfo): MeasurementSpec[] => [
  { kind: 'seeing', nodes: [image.node] },
  { kind: 'seeing', nodes: [other.node] },
];

/** Width and wings of an image's stars, the mean over its planes. */
const starsOf = (figure: Measurement): { fwhm: number; beta: number } => {
  const { planes } = expectKind('seeing', figure);
  const mean = (of: (plane: (typeof planes)[number]) => number) =>
    planes.reduce((sum, plane) => sum + of(plane), 0) / planes.length;
  return { fwhm: mean((plane) => plane.fwhm), beta: mean((plane) => plane.beta) };
};

/** σ of the smoothing. */
const sigmaOf = (figures: readonly Measurement[]): number =>
  matchingBlurSigma(starsOf(figures[0]), starsOf(figures[1]).fwhm);

/** What that makes of the stars. */
export function softening(figures: readonly Measurement[]): StarBlur {
  const [own, other] = figures.map(starsOf);
  return { wider: Math.max(0, other.fwhm ** 2 - own.fwhm ** 2), lower: peakAfterBlur(own, sigmaOf(figures)) };
}

/** The kernel that smooths an image to the seeing of another; one that is as wide already stays as it is. */
export function seeingKernel(image: ImageInfo): NodeKernel<StepReport<typeof spec>> {
  return {
    ...gaussianKernel(image.extent, sigmaOf),
    report: (figures) => ({ fwhm: starsOf(figures[0]).fwhm, to: starsOf(figures[1]).fwhm, sigma: sigmaOf(figures) }),
  };
}

/** Smooths the sharper image to the FWHM of another strand; one that is wider already is left alone. */
export const matchSeeingStep = implementStep(spec, {
  version: 2,
  build: (_, { input, others, withStars }) => ({
    kernel: seeingKernel(input),
    figures: seeingFigures(withStars(input), withStars(others[0])),
    planes: input.planes,
    extent: input.extent,
  }),
});
