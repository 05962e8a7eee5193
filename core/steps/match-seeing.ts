import { z } from 'zod';
import { widening } from '../continuum/seeing';
import { figureOf, type Figure, type FigureSpec } from '../figures/index';
import type { ImageInfo, Kernel } from '../engine/kernel';
import { stepKind } from '../engine/step-kind';
import { softened } from './neighbourhood';

/** What smoothing an image to another's seeing needs measured: its own, then the other's. */
export const seeingFigures = (image: ImageInfo, other: ImageInfo): FigureSpec[] => [
  { kind: 'seeing', nodes: [image.node] },
  { kind: 'seeing', nodes: [other.node] },
];

const fwhmOf = (figure: Figure): number => {
  const widths = figureOf('seeing', figure).planes.map((s) => s.fwhm);
  return widths.reduce((sum, w) => sum + w, 0) / widths.length;
};

/** The kernel that smooths an image to the seeing of another; one that is as wide already stays as it is. */
export function seeingKernel(image: ImageInfo): Kernel {
  const sigma = (figures: readonly Figure[]) => widening(fwhmOf(figures[0]), fwhmOf(figures[1]));
  return {
    ...softened(image.extent, sigma),
    describe: (figures) => ({ fwhm: fwhmOf(figures[0]), to: fwhmOf(figures[1]), sigma: sigma(figures) }),
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
  build: (_, { input, others }) => ({
    kernel: seeingKernel(input),
    figures: seeingFigures(input, others[0]),
    planes: input.planes,
    extent: input.extent,
  }),
});
