import type { Layer, Mask, Recipe, Step } from './schema';
import { stepName } from './names';
import { paramLabel } from './steps/labels';

/** What differs at one place of two recipes, in words. */
export interface Difference {
  /** Strand, layer or mask by its name; what concerns the whole picture stands under `picture`. */
  readonly where: string;
  readonly what: string;
}

type Bag = Readonly<Record<string, unknown>>;

const isBag = (value: unknown): value is Bag => typeof value === 'object' && value !== null && !Array.isArray(value);
/** A thing without what is told by itself, or not at all. */
const without = (item: object, ...keys: readonly string[]): Bag =>
  Object.fromEntries(Object.entries(item).filter(([key]) => !keys.includes(key)));
const alike = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/** A value that is short enough to be said. */
function valueText(value: unknown): string | undefined {
  if (typeof value === 'number') return String(Number(value.toPrecision(4)));
  if (typeof value === 'boolean') return value ? 'on' : 'off';
  return typeof value === 'string' && value.length <= 40 ? value : undefined;
}

/** What differs between two values: what lies within them, as far as they have names for it. */
function valueDifferences(label: string, a: unknown, b: unknown): string[] {
  if (alike(a, b)) return [];
  if (isBag(a) && isBag(b))
    return [...new Set([...Object.keys(a), ...Object.keys(b)])].flatMap((key) =>
      valueDifferences(label ? `${label} ${key}` : key, a[key], b[key]),
    );
  const [before, after] = [valueText(a), valueText(b)];
  if (before !== undefined && after !== undefined) return [`${label} ${before} → ${after}`];
  if (a === undefined) return [after === undefined ? `${label} new` : `${label} ${after} (new)`];
  if (b === undefined) return [before === undefined ? `${label} removed` : `${label} removed (was ${before})`];
  return [`${label} changed`];
}

/** Things of two lists that answer each other by a name of their own. */
function matched<T>(a: readonly T[], b: readonly T[], nameOf: (item: T, index: number, all: readonly T[]) => string) {
  const named = (list: readonly T[]) => new Map(list.map((item, i) => [nameOf(item, i, list), item]));
  const [from, to] = [named(a), named(b)];
  const names = [...new Set([...from.keys(), ...to.keys()])];
  const common = (list: ReadonlyMap<string, T>) => [...list.keys()].filter((name) => from.has(name) && to.has(name));
  return {
    pairs: names.map((name) => ({ name, before: from.get(name), after: to.get(name) })),
    moved: !alike(common(from), common(to)),
  };
}

/** The second denoise of a list answers the other list's second one. */
const nameOfStep = (step: Step, index: number, all: readonly Step[]): string => {
  const nth = all.slice(0, index).filter((other) => other.do === step.do).length;
  const label = stepName(step.do);
  return nth === 0 ? label : `${label} (${nth + 1})`;
};

/** A step's own settings by the labels that people read. */
const labelled = (step: Step): Bag =>
  Object.fromEntries(
    Object.entries(without(step, 'do', 'name')).map(([key, value]) => [paramLabel(step.do, key), value]),
  );

function ofSteps(where: string, a: readonly Step[] = [], b: readonly Step[] = []): Difference[] {
  const { pairs, moved } = matched(a, b, nameOfStep);
  const words = pairs.flatMap(({ name, before, after }) => {
    if (!before) return [`${name} added`];
    if (!after) return [`${name} removed`];
    return valueDifferences(name, labelled(before), labelled(after));
  });
  return [...words, ...(moved ? ['step order changed'] : [])].map((what) => ({ where, what }));
}

const nestedIn = (source: unknown): readonly Layer[] | undefined =>
  isBag(source) && Array.isArray(source.layers) ? (source.layers as Layer[]) : undefined;

/** What an image is made of; of a small cloth, its layers. */
function ofSource(where: string, a: unknown, b: unknown): Difference[] {
  const [from, to] = [nestedIn(a), nestedIn(b)];
  if (from && to) return ofLayers(from, to);
  return valueDifferences('', isBag(a) ? a : {}, isBag(b) ? b : {}).map((what) => ({
    where,
    what: what.replace(/^mix /, ''),
  }));
}

function ofMask(where: string, a: Mask, b: Mask): Difference[] {
  const rest = (mask: Mask) => without(mask, 'id', 'of', 'steps');
  return [
    ...ofSource(where, a.of, b.of),
    ...ofSteps(where, a.steps, b.steps),
    ...valueDifferences('', rest(a), rest(b)).map((what) => ({ where, what })),
  ];
}

const nameOfMask = (mask: Layer['mask']): string | undefined => (typeof mask === 'object' ? 'own' : mask);

function ofLayer(where: string, a: Layer, b: Layer): Difference[] {
  const rest = (layer: Layer) => without(layer, 'id', 'name', 'of', 'steps', 'mask');
  const masks =
    typeof a.mask === 'object' && typeof b.mask === 'object'
      ? ofMask(`mask of ${where}`, a.mask, b.mask)
      : valueDifferences('mask', nameOfMask(a.mask), nameOfMask(b.mask)).map((what) => ({ where, what }));
  return [
    ...ofSource(where, a.of, b.of),
    ...ofSteps(where, a.steps, b.steps),
    ...valueDifferences('', rest(a), rest(b)).map((what) => ({ where, what })),
    ...masks,
  ];
}

const titleOf = ({ name, id }: { readonly name?: string; readonly id?: string }): string => name ?? id ?? '';

/** Things with ids: those that are new, those that are gone, and what differs in the others. */
function ofThings<T extends { readonly id?: string; readonly name?: string }>(
  kind: 'strand' | 'layer' | 'mask',
  a: readonly T[] = [],
  b: readonly T[] = [],
  each: (where: string, before: T, after: T) => Difference[],
): Difference[] {
  const { pairs, moved } = matched(a, b, ({ id = '' }) => id);
  const found = pairs.flatMap(({ before, after }) => {
    const title = titleOf(after ?? before ?? {});
    const where = kind === 'strand' ? title : `${kind} ${title}`;
    if (!before) return [{ where, what: 'added' }];
    if (!after) return [{ where, what: 'removed' }];
    return each(where, before, after);
  });
  return moved ? [...found, { where: 'picture', what: `${kind} order changed` }] : found;
}

const ofLayers = (a: readonly Layer[] | undefined, b: readonly Layer[] | undefined): Difference[] =>
  ofThings('layer', a, b, ofLayer);

/**
 * What differs between two recipes, from the strands to the finished picture, in words: "OIII: linear fit method pixels → levels". Names and
 * notes do not count.
 */
export function diffRecipes(a: Recipe, b: Recipe): Difference[] {
  const rest = ({ cloth, sky, frame }: Recipe) => ({ ...without(cloth ?? {}, 'layers', 'steps'), sky, frame });
  return [
    ...ofThings('strand', a.strands, b.strands, (where, before, after) => [
      ...ofSource(where, before.from, after.from),
      ...ofSteps(where, before.steps, after.steps),
    ]),
    ...ofThings('mask', a.masks, b.masks, ofMask),
    ...ofLayers(a.cloth?.layers, b.cloth?.layers),
    ...ofSteps('picture', a.cloth?.steps, b.cloth?.steps),
    ...valueDifferences('', rest(a), rest(b)).map((what) => ({ where: 'picture', what })),
  ];
}
