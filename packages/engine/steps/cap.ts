import { implementStep } from './step-implementation';
import { cap as spec } from '@owl-loom/recipe/steps/cap';

/** Green no more than the mean, or the greater, of red and blue; magenta likewise, on the inverse. */
export const capStep = implementStep(spec, {
  version: 1,
  build: ({ colour, against, strength }, { input }) => ({
    kernel: {
      prepare:
        () =>
        (
          [
            {
              planes: [r, g, b],
            },
          ],
          out,
        ) => {
          const [red, green, blue] = out.planes;
          red.set(r);
          blue.set(b);
          for (let i = 0; i < g.length; i++) {
            const [x, z] = [r[i], b[i]];
            // The greater of the inverses is the inverse of the lesser.
            const limit = against === 'mean' ? (x + z) / 2 : colour === 'green' ? Math.max(x, z) : Math.min(x, z);
            const over = colour === 'green' ? g[i] > limit : g[i] < limit;
            green[i] = over || limit !== limit ? g[i] + strength * (limit - g[i]) : g[i];
          }
        },
    },
    figures: [],
    planes: 3,
    extent: input.extent,
  }),
});
