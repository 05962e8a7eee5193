/** A list as people say it: `Ha, OIII and SII`. */
export const joinWithAnd = (words: readonly string[]): string =>
  words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} and ${words[words.length - 1]}`;

/** A count with its noun: `1 stack`, `3 stacks`. */
export const many = (count: number, noun: string): string => `${count} ${noun}${count === 1 ? '' : 's'}`;

/** The words as a sentence begins: their first letter large. */
export const capitalise = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);
