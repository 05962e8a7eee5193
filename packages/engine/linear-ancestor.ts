import type { BuildContext } from './build/context';
import type { ImageInfo } from './node-kernel';
import type { LinearAncestor } from './steps/step-implementation';

/**
 * Goes back from a stretched image over all that was done pixel by pixel to the linear image that it was made of.
 * @param path of the step for which another image goes the same way
 * @returns undefined where the image is linear, came stretched from its file, or has been mixed, masked or smoothed since
 */
export function findLinearAncestor(ctx: BuildContext, input: ImageInfo, path: string): LinearAncestor | undefined {
  const way: number[] = [];
  let node = ctx.nodes[input.node];
  while (node.domain === 'stretched') {
    if (!node.kernel || node.kernel.inputRoi || node.inputs.length !== 1) return undefined;
    way.unshift(node.node);
    node = ctx.nodes[node.inputs[0]];
  }
  if (way.length === 0 || node.domain !== 'linear') return undefined;
  const again = (image: ImageInfo, index: number): ImageInfo => {
    const { kind, kernel, measurements: figures, hash, planes, domain } = ctx.nodes[index];
    const { extent } = image;
    const inputs = [image.node];
    const params = ['as', hash];
    return {
      node: ctx.add({ path, kind, version: 1, inputs, planes, domain, extent, kernel, figures, params }),
      planes,
      domain,
      extent,
    };
  };
  return { linear: node, reapplyStretch: (image) => way.reduce(again, image) };
}
