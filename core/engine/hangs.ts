import type { Figure } from '../figures/index';
import { newRaster, type Raster } from '../raster/raster';
import { isEmpty, type Rect } from '../raster/rect';
import { figuresOf, type Graph, type GraphNode, MissingFigure, nodesBefore } from './graph';
import { keyIn } from './plan';
import { windowNeeded } from './windows';

/** How the noise of a plane at the sky is made of that of the stacks: by stack and plane, each share in the image's units. */
export type Hang = ReadonlyMap<string, number>;

/** A node at the sky: the level of each plane, and how each hangs on the stacks. */
interface AtSky {
  readonly levels: readonly number[];
  readonly hangs: readonly Hang[];
}

/** A window larger than this is not worth filling to learn how a kernel answers to a level. */
const MOST_PIXELS = 40_000;

const toneOf = (graph: Graph, node: number, figures: ReadonlyMap<string, Figure>) => {
  const figure = figures.get(keyIn(graph, { kind: 'tone', nodes: [node] }));
  return figure?.kind === 'tone' ? figure.planes : undefined;
};

/** √Σ, the noise of all shares together. */
export const noiseOfHang = (hang: Hang): number => Math.hypot(...hang.values());

/** The hang of a weighted sum: shares of one stack add up before they are squared, whichever strands they come through. */
export function sumOfHangs(parts: readonly { readonly weight: number; readonly hang: Hang }[]): Hang {
  const sum = new Map<string, number>();
  for (const { weight, hang } of parts)
    for (const [stack, share] of hang) sum.set(stack, (sum.get(stack) ?? 0) + weight * share);
  return sum;
}

const scaled = (hang: Hang, by: number): Hang => new Map([...hang].map(([stack, share]) => [stack, by * share]));

const constant = (rect: Rect, levels: readonly number[]): Raster => {
  const raster = newRaster(rect, levels.length === 3 ? 3 : 1);
  raster.planes.forEach((plane, p) => plane.fill(levels[p]));
  return raster;
};

/** What a node makes of even inputs, at the middle of the frame; undefined where it looks too far around for that. */
function answerOf(graph: Graph, node: GraphNode, figures: ReadonlyMap<string, Figure>) {
  const { frame } = graph;
  const place: Rect = {
    x: frame.x + (frame.width >> 1),
    y: frame.y + (frame.height >> 1),
    width: 1,
    height: 1,
  };
  const windows = node.inputs.map((_, i) => windowNeeded(node, place, 0, i, figures));
  if (windows.some((window) => isEmpty(window) || window.width * window.height > MOST_PIXELS)) return undefined;
  const apply = node.kernel?.bind(figuresOf(node, figures), 0);
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
function through(graph: Graph, node: GraphNode, inputs: readonly AtSky[], figures: ReadonlyMap<string, Figure>): AtSky {
  const first = inputs[0];
  // What looks far around is taken to leave levels as they are; its noise is set right where it has been measured.
  const asBefore: AtSky = {
    levels: Array.from({ length: node.planes }, (_, p) => first.levels[p % first.levels.length]),
    hangs: Array.from({ length: node.planes }, (_, p) => first.hangs[p % first.hangs.length]),
  };
  const answer = answerOf(graph, node, figures);
  if (!answer) return asBefore;
  const levels = inputs.map((input) => input.levels);
  const own = answer(levels);
  if (!own.every(Number.isFinite)) return asBefore;
  const parts: { weight: number; hang: Hang }[][] = own.map(() => []);
  inputs.forEach((input, i) => {
    input.hangs.forEach((hang, q) => {
      const step = Math.max(noiseOfHang(hang), 1e-4 * Math.abs(input.levels[q]), 1e-7);
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
    hangs: parts.map((list, p) => (list.length > 0 ? sumOfHangs(list) : (asBefore.hangs[p] ?? new Map()))),
  };
}

/**
 * How the noise of an image at the sky hangs on the stacks, a plane each, so that the noise of a sum of related strands comes out right.
 * Shares are those of the stacks' own noises through the slopes of all kernels on the way; where the image's noise has been measured, they
 * are brought to it together, which takes in what smoothing did.
 * @param figures those of the image's steps, and the tones of its stacks
 * @returns undefined where one of them is not known yet
 */
export function hangsOf(graph: Graph, node: number, figures: ReadonlyMap<string, Figure>): readonly Hang[] | undefined {
  const made = new Map<number, AtSky>();
  try {
    for (const index of nodesBefore(graph.nodes, node)) {
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
        hangs: new Array<Hang>(here.planes).fill(new Map()),
      };
      made.set(index, inputs.length > 0 ? through(graph, here, inputs, figures) : level);
    }
  } catch (fault) {
    if (fault instanceof MissingFigure) return undefined;
    throw fault;
  }
  const hangs = made.get(node)?.hangs;
  const measured = toneOf(graph, node, figures);
  return hangs?.map((hang, p) => {
    const found = noiseOfHang(hang);
    return measured && found > 0 ? scaled(hang, measured[p].noise / found) : hang;
  });
}
