/** The colour of each known filter's thread: near the light that it lets through, each to be told from the others. */
const COLOURS: Readonly<Record<string, string>> = {
  Ha: '#f0624d',
  OIII: '#2fbfae',
  SII: '#dd6699',
  L: '#dcdcdc',
  R: '#ff6b6b',
  G: '#62c66b',
  B: '#5c9dff',
};
const PLAIN = '#b9b9b9';

/** The colour of a filter's thread, without its stars too; a plain one for filters of other names. */
export const filterColour = (filter: string | null | undefined): string =>
  COLOURS[filter?.replace(/ starless$/, '') ?? ''] ?? PLAIN;
