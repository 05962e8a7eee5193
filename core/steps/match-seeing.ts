import { z } from 'zod';
import { loweredBy, widening } from '../continuum/seeing';
import { figureOf, type Figure, type FigureSpec } from '../figures/index';
import type { ImageInfo, Kernel, Softening } from '../engine/kernel';
import { stepKind } from '../engine/step-kind';
import { softened } from './neighbourhood';

/** What smoothing an image to another's seeing needs measured: its own, then the other's. */
export const seeingFigures = (image: ImageInfo, other: ImageInfo): FigureSpec[] => [
  { kind: 'seeing', nodes: [image.node] },
  { kind: 'seeing', nodes: [other.node] },
];

/** Width and wings of an image's stars, the mean over its planes. */
const starsOf = (figure: Figure): { fwhm: number; beta: number } => {
  const { planes } = figureOf('seeing', figure);
  const mean = (of: (plane: (typeof planes)[number]) => number) =>
    planes.reduce((sum, plane) => sum + of(plane), 0) / planes.length;
  return { fwhm: mean((plane) => plane.fwhm), beta: mean((plane) => plane.beta) };
};

/** σ of the smoothing. */
const sigmaOf = (figures: readonly Figure[]): number => widening(starsOf(figures[0]), starsOf(figures[1]).fwhm);

/** What that makes of the stars. */
export function softening(figures: readonly Figure[]): Softening {
  const [own, other] = figures.map(starsOf);
  return { wider: Math.max(0, other.fwhm ** 2 - own.fwhm ** 2), lower: loweredBy(own, sigmaOf(figures)) };
}

/** The kernel that smooths an image to the seeing of another; one that is as wide already stays as it is. */
export function seeingKernel(image: ImageInfo): Kernel {
  return {
    ...softened(image.extent, sigmaOf),
    describe: (figures) => ({ fwhm: starsOf(figures[0]).fwhm, to: starsOf(figures[1]).fwhm, sigma: sigmaOf(figures) }),
  };
}

/** Smooths the sharper image to the FWHM of another strand; one that is wider already is left alone. */
export const matchSeeing = stepKind({
  do: 'match-seeing',
  name: 'match seeing',
  says: 'Softens this to the star width of another strand.',
  watch: {
    for: 'Stars of both strands are equally wide.',
    tooMuch: 'The sharper image loses its detail for good in all that reads this.',
  },
  group: 'lines',
  words: ['fwhm', 'blur', 'psf', 'star size'],
  version: 2,
  params: z.strictObject({ to: z.string() }),
  takes: { planes: 'either', domain: 'either' },
  gives: { domain: 'same' },
  begins: ({ others }) => ({ to: others[0] ?? '' }),
  strands: (p) => [p.to],
  build: (_, { input, others, withStars }) => ({
    kernel: seeingKernel(input),
    figures: seeingFigures(withStars(input), withStars(others[0])),
    planes: input.planes,
    extent: input.extent,
  }),
});
