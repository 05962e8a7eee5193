/** What a text says as JSON; undefined where it is none. */
export function parseJsonOrUndefined(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

const [QUOTE, ESCAPE, OPEN_LIST, OPEN_OBJECT, CLOSE_LIST, CLOSE_OBJECT] = [...'"\\[{]}'].map((c) => c.charCodeAt(0));

/** Lists and objects that JSON may have, and how many within each other. */
export interface JsonSize {
  readonly lists: number;
  readonly nested: number;
}

/** The lists that any JSON from outside may have: the points of painted masks are by far the most of a recipe's. */
export const MOST_LISTS = 400_000;

/**
 * Counts the lists and objects of a JSON text without reading it: a few megabytes of nothing but brackets take seconds to be made into lists,
 * and a gigabyte of memory.
 * @param text in UTF-8
 * @returns what there is too much of; undefined where it may be read
 */
export function tooMuchIn(text: Uint8Array, max: JsonSize): keyof JsonSize | undefined {
  let [nested, lists, inText] = [0, 0, false];
  for (let i = 0; i < text.length; i++) {
    const c = text[i];
    if (inText) {
      if (c === ESCAPE) i++;
      else if (c === QUOTE) inText = false;
    } else if (c === QUOTE) inText = true;
    else if (c === CLOSE_LIST || c === CLOSE_OBJECT) nested--;
    else if (c === OPEN_LIST || c === OPEN_OBJECT) {
      if (++nested > max.nested) return 'nested';
      if (++lists > max.lists) return 'lists';
    }
  }
  return undefined;
}
