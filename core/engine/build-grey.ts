import { LUMINANCE } from '../colour/luminance';
import { weigh } from '../kernels/weigh';
import type { BuildContext, Image } from './context';

/** A colour image as its luminance, Rec. 709 of the numbers as they are; a mono one as it is. */
export function greyImage(ctx: BuildContext, image: Image, path: string): Image {
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
      bind:
        () =>
        ([{ planes }], out) =>
          weigh(planes, LUMINANCE, 0, out.planes[0]),
    },
  });
  return { ...image, node, planes: 1, geometry: undefined };
}
