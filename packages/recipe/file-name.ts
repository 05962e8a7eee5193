/** What can stand in braces in the pattern of a file's name. */
export const NAME_PARTS = ['recipe', 'target', 'what', 'state', 'width', 'date'] as const;

/** How files are called where nothing is said; `what` is the strand or layer, and nothing for the cloth. */
export const USUAL_NAME = '{recipe}-{what}-r{state}';

/** Letters, measurements and dashes. */
const plain = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-+|-+$/g, '')
    .toLowerCase();

/** Characters of a name, at most: with its ending it must fit into what file systems allow, also where a letter takes three bytes. */
const MOST = 70;

/**
 * A file's name from its pattern.
 * @param values what stands for each word in braces; one that nothing is known by stays as it is written
 */
export function fileNameFromPattern(
  pattern: string = USUAL_NAME,
  { format, ...values }: Readonly<Record<(typeof NAME_PARTS)[number] | 'format', string>>,
): string {
  const filled = pattern.replace(/\{(\w+)\}/g, (whole, word: string) =>
    Object.hasOwn(values, word) ? values[word as keyof typeof values] : whole,
  );
  return `${plain(filled).slice(0, MOST) || 'cloth'}.${format}`;
}
