import type { Recipe, Step } from '@owl-loom/recipe/schema';
import {
  layersOfList,
  type StepOwner,
  stackOf,
  strandOwners,
  strandsInUse,
  strandDependencies,
} from '@owl-loom/recipe/walk';
import { filterColour } from '@owl-loom/recipe/filter-colours';
import { STEP_SPECS } from '@owl-loom/recipe/steps/index';
import { escapeHtml } from '../codecs/escape-html';

/** Places of the drawing, in its own units. */
const ROW = 34;
const NAME = 64;
const BEAD = { height: 22, gap: 8, padding: 20, letter: 6.4 } as const;
const LAYER = { width: 150, gap: 46 } as const;

const beadWidth = (name: string): number => BEAD.padding + BEAD.letter * name.length;

interface Bead {
  readonly name: string;
  readonly x: number;
}

/** The beads of a list of steps, one after the other from a place on, and where they end. */
function beadsOf(steps: readonly Step[], from: number): { beads: Bead[]; end: number } {
  let x = from;
  const beads = steps
    .filter(({ off }) => !off)
    .map((step) => {
      const bead = { name: step.name ?? STEP_SPECS.get(step.do)?.name ?? step.do, x };
      x += beadWidth(bead.name) + BEAD.gap;
      return bead;
    });
  return { beads, end: x };
}

const text = (x: number, y: number, words: string, more = ''): string =>
  `<text x="${x}" y="${y + 4}" ${more}>${escapeHtml(words)}</text>`;

const drawnBeads = (beads: readonly Bead[], y: number, colour: string): string =>
  beads
    .map(
      ({ name, x }) =>
        `<rect x="${x}" y="${y - BEAD.height / 2}" width="${beadWidth(name)}" height="${BEAD.height}" rx="5" fill="#1c1c1c" stroke="${colour}"/>${text(x + BEAD.padding / 2, y, name)}`,
    )
    .join('');

/** A thread from one place to another, that bends between them. */
const thread = (from: readonly [number, number], to: readonly [number, number], colour: string): string => {
  const half = (from[0] + to[0]) / 2;
  return `<path d="M${from.join(' ')}C${half} ${from[1]} ${half} ${to[1]} ${to.join(' ')}" fill="none" stroke="${colour}" stroke-width="1.6"/>`;
};

/** What a strand's thread is drawn in: its filter's colour, or a plain one. */
function colourOf({ source }: StepOwner, filters: ReadonlyMap<string, string | undefined>): string {
  const stack = source && stackOf(source);
  return filterColour(stack === undefined ? undefined : (filters.get(stack) ?? stack));
}

const layerName = ({ id, path }: StepOwner, recipe: Recipe): string => {
  const index = Number(/\d+/.exec(path)?.[0]);
  return recipe.cloth?.layers[index]?.name ?? id ?? `layer ${index + 1}`;
};

/**
 * How a picture was woven, as an SVG: strands in use as threads with their steps for beads, which meet in the layers, the layers in the cloth,
 * which runs on through its finishing steps.
 * @param filters of the stacks, by name
 */
export function recipeSvg(recipe: Recipe, filters: ReadonlyMap<string, string | undefined>): string {
  const used = strandsInUse(recipe);
  const strands = strandOwners(recipe).filter(({ id }) => id !== undefined && used.has(id));
  const layers = layersOfList(recipe, 'cloth.layers').filter(({ visible }) => visible);
  const rows = strands.map((owner, i) => ({ owner, y: ROW * (i + 0.75), ...beadsOf(owner.steps, NAME) }));
  const layersAt = Math.max(NAME, ...rows.map(({ end }) => end)) + LAYER.gap;
  const cards = layers.map((owner, i) => ({ owner, y: ROW * (layers.length - i - 0.25) }));
  const clothAt = layersAt + LAYER.width + LAYER.gap;
  const clothY = ROW * Math.max(0.75, layers.length / 2 + 0.25);
  const finish = beadsOf(recipe.cloth?.steps ?? [], clothAt + 66);
  const height = ROW * Math.max(strands.length, layers.length, 1) + ROW / 2;
  const width = Math.max(finish.end, clothAt + 80);
  const parts = [
    ...rows.map(({ owner, y, end }) => thread([NAME - 8, y], [end, y], colourOf(owner, filters))),
    ...cards.flatMap(({ owner, y }) =>
      rows
        .filter(({ owner: strand }) => strand.id !== undefined && strandDependencies(owner).includes(strand.id))
        .map((row) => thread([row.end, row.y], [layersAt, y], colourOf(row.owner, filters))),
    ),
    ...cards.map(({ y }) => thread([layersAt + LAYER.width, y], [clothAt, clothY], '#b9b9b9')),
    thread([clothAt, clothY], [width - 4, clothY], '#b9b9b9'),
    ...rows.map(
      ({ owner, y, beads }) =>
        text(0, y, owner.id ?? '', `fill="${colourOf(owner, filters)}" font-weight="600"`) +
        drawnBeads(beads, y, colourOf(owner, filters)),
    ),
    ...cards.map(
      ({ owner, y }) =>
        `<rect x="${layersAt}" y="${y - 13}" width="${LAYER.width}" height="26" rx="5" fill="#242424" stroke="#474747"/>${text(layersAt + 10, y, layerName(owner, recipe))}`,
    ),
    `<rect x="${clothAt}" y="${clothY - 14}" width="56" height="28" rx="6" fill="#f0b061"/>${text(clothAt + 12, clothY, 'cloth', 'fill="#000" font-weight="600"')}`,
    drawnBeads(finish.beads, clothY, '#b9b9b9'),
  ];
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${Math.ceil(width)} ${Math.ceil(height)}" width="${Math.ceil(width)}" height="${Math.ceil(height)}" role="img" aria-label="How it was woven" font-family="sans-serif" font-size="12" fill="#ececec">${parts.join('')}</svg>`;
}
