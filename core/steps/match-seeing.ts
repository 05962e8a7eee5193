import { z } from 'zod';
import { widening } from '../continuum/seeing';
import { asSeeing, type Figure, type FigureSpec } from '../engine/figures';
import { gaussian, gaussianMargin } from '../scales/gaussian';
import { type ImageInfo, type Kernel, stepKind } from './kind';
import { neighbourhood } from './neighbourhood';

/** What smoothing an image to another's seeing needs measured: its own, then the other's. */
export const seeingFigures = (image: ImageInfo, other: ImageInfo): FigureSpec[] => [
  { kind: 'seeing', nodes: [image.node] },
  { kind: 'seeing', nodes: [other.node] },
];

const fwhmOf = (figure: Figure): number => {
  const widths = asSeeing(figure).map((s) => s.fwhm);
  return widths.reduce((sum, w) => sum + w, 0) / widths.length;
};

/** The kernel that smooths an image to the seeing of another; one that is as wide already stays as it is. */
export function seeingKernel(image: ImageInfo): Kernel {
  const sigma = (figures: readonly Figure[], level: number) => widening(fwhmOf(figures[0]), fwhmOf(figures[1])) / 2 ** level;
  return {
    ...neighbourhood(
      image.extent,
      (level, figures) => gaussianMargin(sigma(figures, level)),
      (figures, level) => (plane, rect, window) => gaussian(plane, rect, sigma(figures, level), window),
    ),
    describe: (figures) => ({ fwhm: fwhmOf(figures[0]), to: fwhmOf(figures[1]), sigma: sigma(figures, 0) }),
  };
}

/** Smooths the sharper image to the FWHM of another strand; one that is wider already is left alone. */
export const matchSeeing = stepKind({
  do: 'match-seeing',
  version: 1,
  params: z.strictObject({ to: z.string() }),
  takes: { planes: 'either', domain: 'either' },
  gives: { domain: 'same' },
  strands: (p) => [p.to],
  build: (_, { input, others }) => ({ kernel: seeingKernel(input), figures: seeingFigures(input, others[0]), planes: input.planes, extent: input.extent }),
});
