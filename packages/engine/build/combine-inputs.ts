import { union } from '@owl-loom/image/geometry/rect';
import type { BuildContext, BuilderImage } from './context';
import { combineDomains } from '../graph';

/** Domain and extent of what is made of several images; warns where linear and stretched ones meet. */
export function combineImageInfo(
  ctx: BuildContext,
  images: readonly BuilderImage[],
  path: string,
  what: string,
): Pick<BuilderImage, 'domain' | 'extent' | 'wcs'> {
  const { domain, mixed } = combineDomains(images.map((image) => image.domain));
  if (mixed) ctx.warn(path, `This ${what} mixes linear and stretched strands. Stretch all of them, or none.`);
  // What is woven together is taken to lie on one grid; it lies on the sky where the first of them does.
  const wcs = images.map((image) => image.wcs).find((w) => w && !('trouble' in w));
  return { domain, extent: images.map((image) => image.extent).reduce(union), wcs };
}
