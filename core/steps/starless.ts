import { z } from 'zod';
import type { Kernel } from '../engine/kernel';
import { stepKind } from '../engine/step-kind';
import { starlessParts, starTaking } from './star-taking';

/** A partner that was made elsewhere is the result. */
const AS_IT_IS: Kernel = {
  bind:
    () =>
    ([from], out) =>
      out.planes.forEach((to, p) => to.set(from.planes[p])),
};

/**
 * Takes the stars out and closes the gaps: each star's light is taken off as its field's profile or its own rings tell it (core/starless), and
 * where too little of the image is left under it the gap is filled from around (core/mend).
 */
export const starless = stepKind({
  do: 'starless',
  name: 'starless',
  says: 'Takes the stars out and closes the gaps.',
  group: 'stars',
  words: ['remove stars', 'star removal', 'without stars', 'nebula only'],
  version: 1,
  params: z.strictObject(starTaking),
  takes: { planes: 'either', domain: 'either' },
  gives: { domain: 'same' },
  kept: true,
  build: (p, place) => {
    const { input } = place;
    if (p.partner !== undefined)
      return {
        kernel: AS_IT_IS,
        from: place.alike(p.partner).node,
        figures: [],
        planes: input.planes,
        extent: input.extent,
      };
    const { less, reads, kernel, figures } = starlessParts(input, place, p);
    return { kernel, from: less.node, reads, figures, planes: input.planes, extent: input.extent };
  },
});
