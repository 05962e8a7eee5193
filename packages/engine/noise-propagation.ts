import type { Measurement } from './measurements/index';
import { newRaster, type Raster } from '@owl-loom/image/raster/raster';
import { isEmpty, type Rect } from '@owl-loom/image/geometry/rect';
import { measurementsOf, type Graph, type GraphNode, MissingMeasurement, dependencyClosure } from './graph';
import { measurementKeyIn } from './measurement-plan';
import { inputRoiOf } from './roi';

/** How the noise of a plane at the sky is made of that of the stacks: by stack and plane, each share in the image's units. */
export type NoiseContributions = ReadonlyMap<string, number>;

/** A node at the sky: the level of each plane, and how each depends on the stacks. */
interface AtSky {
  readonly levels: readonly number[];
  readonly hangs: readonly NoiseContributions[];
}

/** A window larger than this is not worth filling to learn how a kernel answers to a level. */
const MOST_PIXELS = 40_000;

const toneOf = (graph: Graph, node: number, figures: ReadonlyMap<string, Measurement>) => {
  const figure = figures.get(measurementKeyIn(graph, { kind: 'tone', nodes: [node] }));
  return figure?.kind === 'tone' ? figure.planes : undefined;
};

/** √Σ, the noise of all shares together. */
export const totalNoise = (hang: NoiseContributions): number => Math.hypot(...hang.values());

/** The hang of a weighted sum: shares of one stack add up before they are squared, whichever strands they come through. */
export function combineContributions(
  parts: readonly { readonly weight: number; readonly hang: NoiseContributions }[],
): NoiseContributions {
  const sum = new Map<string, number>();
  for (const { weight, hang } of parts)
    for (const [stack, share] of hang) sum.set(stack, (sum.get(stack) ?? 0) + weight * share);
  return sum;
}

const scaled = (hang: NoiseContributions, by: number): NoiseContributions =>
  new Map([...hang].map(([stack, share]) => [stack, by * share]));

const constant = (rect: Rect, levels: readonly number[]): Raster => {
  const raster = newRaster(rect, levels.length === 3 ? 3 : 1);
  raster.planes.forEach((plane, p) => plane.fill(levels[p]));
  return raster;
};

/** What a node makes of even inputs, at the middle of the frame; undefined where it looks too far around for that. */
function responseAtSky(graph: Graph, node: GraphNode, figures: ReadonlyMap<string, Measurement>) {
  const { frame } = graph;
  const place: Rect = {
    x: frame.x + (frame.width >> 1),
    y: frame.y + (frame.height >> 1),
    width: 1,
    height: 1,
  };
  const windows = node.inputs.map((_, i) => inputRoiOf(node, place, 0, i, figures));
  if (windows.some((window) => isEmpty(window) || window.width * window.height > MOST_PIXELS)) return undefined;
  const apply = node.kernel?.prepare(measurementsOf(node, figures), 0);
  if (!apply) return undefined;
  return (inputs: readonly (readonly number[])[]): number[] => {
    const out = newRaster(place, node.planes);
    apply(
      inputs.map((levels, i) => constant(windows[i], levels)),
      out,
      () => undefined,
    );
    return out.planes.map((plane) => plane[0]);
  };
}

/** How a node's planes at the sky follow from those of its inputs: by the slope of its kernel there. */
function linearise(
  graph: Graph,
  node: GraphNode,
  inputs: readonly AtSky[],
  figures: ReadonlyMap<string, Measurement>,
): AtSky {
  const first = inputs[0];
  // What looks far around is taken to leave levels as they are; its noise is set right where it has been measured.
  const asBefore: AtSky = {
    levels: Array.from({ length: node.planes }, (_, p) => first.levels[p % first.levels.length]),
    hangs: Array.from({ length: node.planes }, (_, p) => first.hangs[p % first.hangs.length]),
  };
  const answer = responseAtSky(graph, node, figures);
  if (!answer) return asBefore;
  const levels = inputs.map((input) => input.levels);
  const own = answer(levels);
  if (!own.every(Number.isFinite)) return asBefore;
  const parts: { weight: number; hang: NoiseContributions }[][] = own.map(() => []);
  inputs.forEach((input, i) => {
    input.hangs.forEach((hang, q) => {
      const step = Math.max(totalNoise(hang), 1e-4 * Math.abs(input.levels[q]), 1e-7);
      const moved = (by: number) =>
        answer(levels.map((list, j) => (j === i ? list.map((v, k) => (k === q ? v + by : v)) : list)));
      const [above, below] = [moved(step), moved(-step)];
      own.forEach((_, p) => {
        const weight = (above[p] - below[p]) / (2 * step);
        if (Number.isFinite(weight) && weight !== 0) parts[p].push({ weight, hang });
      });
    });
  });
  // Structures alone, without their ground, do not answer to a level, and hang on their input all the same.
  return {
    levels: own,
    hangs: parts.map((list, p) => (list.length > 0 ? combineContributions(list) : (asBefore.hangs[p] ?? new Map()))),
  };
}

/**
 * How the noise of an image at the sky depends on the stacks, a plane each, so that the noise of a sum of related strands comes out right.
 * Shares are those of the stacks' own noises through the slopes of all kernels on the way; where the image's noise has been measured, they
 * are brought to it together, which takes in what smoothing did.
 * @param measurements those of the image's steps, and the tones of its stacks
 * @returns undefined where one of them is not known yet
 */
export function propagateNoise(
  graph: Graph,
  node: number,
  figures: ReadonlyMap<string, Measurement>,
): readonly NoiseContributions[] | undefined {
  const made = new Map<number, AtSky>();
  try {
    for (const index of dependencyClosure(graph.nodes, node)) {
      const here = graph.nodes[index];
      const { stack } = here;
      if (stack) {
        const tones = toneOf(graph, index, figures);
        if (!tones) return undefined;
        made.set(index, {
          levels: tones.map((tone) => tone.sky),
          hangs: tones.map((tone, p) => new Map([[`${stack.name} ${stack.planes[p]}`, tone.noise]])),
        });
        continue;
      }
      const inputs = here.inputs.map((input) => made.get(input)).filter((input) => input !== undefined);
      const level: AtSky = {
        levels: new Array<number>(here.planes).fill(0),
        hangs: new Array<NoiseContributions>(here.planes).fill(new Map()),
      };
      made.set(index, inputs.length > 0 ? linearise(graph, here, inputs, figures) : level);
    }
  } catch (error) {
    if (error instanceof MissingMeasurement) return undefined;
    throw error;
  }
  const hangs = made.get(node)?.hangs;
  const measured = toneOf(graph, node, figures);
  return hangs?.map((hang, p) => {
    const found = totalNoise(hang);
    return measured && found > 0 ? scaled(hang, measured[p].noise / found) : hang;
  });
}
