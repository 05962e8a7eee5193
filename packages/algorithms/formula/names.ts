import type { Expression, Place } from './ast';
import { parseFormula } from './parse';
import { tokensOf } from './tokens';

/** Every name in an expression, with its place. */
function* namesIn(e: Expression): Generator<{ name: string; place: Place }> {
  if (e.kind === 'name') yield e;
  if (e.kind === 'unary') yield* namesIn(e.of);
  if (e.kind === 'binary') for (const side of [e.left, e.right]) yield* namesIn(side);
  if (e.kind === 'choice') for (const part of [e.test, e.yes, e.no]) yield* namesIn(part);
  if (e.kind === 'call') for (const arg of e.args) yield* namesIn(arg);
}

/** The names that a formula reads before it gives them a value, and those that it gives one. */
function namesOf(text: string): { read: { name: string; place: Place }[]; own: Set<string> } {
  const own = new Set<string>();
  const read: { name: string; place: Place }[] = [];
  for (const { name, value } of parseFormula(text)) {
    for (const one of namesIn(value)) if (!own.has(one.name)) read.push(one);
    if (name !== undefined) own.add(name);
  }
  return { read, own };
}

/**
 * Names that a formula reads before it gives them a value: strands, as far as they are any.
 * @throws UserError where the formula cannot be parsed
 */
export const namesRead = (text: string): string[] => [...new Set(namesOf(text).read.map(({ name }) => name))];

/**
 * Names that a formula gives a value of its own.
 * @throws UserError where the formula cannot be parsed
 */
export const namesGiven = (text: string): string[] => [...namesOf(text).own];

/** A name as a formula holds it: in quotes where it is not one word. */
const written = (name: string): string =>
  /^[A-Za-z_\u00aa-\ud7ff][A-Za-z0-9_\u00aa-\ud7ff]*$/.test(name) ? name : `"${name}"`;

/**
 * A formula with a strand called by another name; all else of its text stays as it is.
 * @param to without quotation marks, and none of {@link namesGiven}
 * @throws UserError where the formula cannot be parsed
 */
export function withNameRead(text: string, from: string, to: string): string {
  const at = ({ line, column }: Place): string => `${line}:${column}`;
  const places = new Set(namesOf(text).read.flatMap(({ name, place }) => (name === from ? [at(place)] : [])));
  // From the end, so that the places before it still hold.
  return tokensOf(text).tokens.reduceRight((next, { startLine, startColumn, startOffset, image }) => {
    if (!places.has(`${startLine}:${startColumn}`)) return next;
    return next.slice(0, startOffset) + written(to) + next.slice(startOffset + image.length);
  }, text);
}
