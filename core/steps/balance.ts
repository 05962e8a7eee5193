import { z } from 'zod';
import { LUMINANCE } from '../colour/luminance';
import { triple } from '../recipe/parts';
import { stepKind } from '../engine/step-kind';

const none = triple.default([0, 0, 0]);
const [OF_RED, OF_GREEN, OF_BLUE] = LUMINANCE;

const WARM: z.infer<typeof triple> = [0.02, 0, -0.02];

/** Adds `(1−y)²·shadows + 2y(1−y)·mids + y²·lights`, y the luminance of the numbers as they are, held to 0–1. */
export const balance = stepKind({
  do: 'balance',
  name: 'balance',
  says: 'Pushes shadows, middle and lights towards a colour each.',
  watch: {
    for: 'Greys stay grey where you want them so; watch the sky and the cores of stars.',
    tooMuch: 'Shadows pushed far tint the whole sky.',
  },
  group: 'colour',
  words: ['colour balance', 'split tone', 'warm', 'cool', 'colour cast'],
  version: 1,
  params: z.strictObject({ shadows: none, mids: none, lights: none, keepLuminance: z.boolean().default(true) }),
  takes: { planes: 'colour', domain: 'stretched' },
  gives: { domain: 'same' },
  begins: () => ({ mids: WARM }),
  build: ({ shadows, mids, lights, keepLuminance }, { input }) => ({
    kernel: {
      bind:
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
          for (let i = 0; i < r.length; i++) {
            const luminance = OF_RED * r[i] + OF_GREEN * g[i] + OF_BLUE * b[i];
            const y = luminance < 0 ? 0 : luminance > 1 ? 1 : luminance;
            const [dark, middle, light] = [(1 - y) ** 2, 2 * y * (1 - y), y * y];
            const x = dark * shadows[0] + middle * mids[0] + light * lights[0];
            const z = dark * shadows[1] + middle * mids[1] + light * lights[1];
            const w = dark * shadows[2] + middle * mids[2] + light * lights[2];
            const back = keepLuminance ? OF_RED * x + OF_GREEN * z + OF_BLUE * w : 0;
            red[i] = r[i] + x - back;
            green[i] = g[i] + z - back;
            blue[i] = b[i] + w - back;
          }
        },
    },
    figures: [],
    planes: 3,
    extent: input.extent,
  }),
});
