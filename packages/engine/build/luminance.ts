import { LUMINANCE } from '@owl-loom/algorithms/colour/luminance';
import { weightedSum } from '@owl-loom/image/kernels/weighted-sum';
import type { BuildContext, BuilderImage } from './context';

/** A colour image as its luminance, Rec. 709 of the numbers as they are; a mono one as it is. */
export function buildLuminance(ctx: BuildContext, image: BuilderImage, path: string): BuilderImage {
  if (image.planes === 1) return image;
  const { domain, extent } = image;
  const node = ctx.add({
    path,
    kind: 'grey',
    version: 1,
    inputs: [image.node],
    planes: 1,
    domain,
    extent,
    kernel: {
      prepare:
        () =>
        ([{ planes }], out) =>
          weightedSum(planes, LUMINANCE, 0, out.planes[0]),
    },
  });
  return { ...image, node, planes: 1, geometry: undefined };
}
