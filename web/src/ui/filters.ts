const COLOURS: Record<string, string> = {
  Ha: 'var(--color-ha)',
  OIII: 'var(--color-oiii)',
  SII: 'var(--color-sii)',
  L: 'var(--color-lum)',
  R: 'var(--color-red)',
  G: 'var(--color-green)',
  B: 'var(--color-blue)',
};

/** The colour of a filter's thread; a plain one for filters of other names. */
export const filterColour = (filter: string | null | undefined): string =>
  filter && Object.hasOwn(COLOURS, filter) ? COLOURS[filter] : 'var(--color-soft)';

/** Filters in the order in which people lay them out: lines first, by brightness, then the broad ones. */
export const FILTER_ORDER = ['Ha', 'OIII', 'SII', 'L', 'R', 'G', 'B'];

/** Sorts by {@link FILTER_ORDER}; unknown filters come last, by name. */
export function byFilter(a: string | null, b: string | null): number {
  const place = (filter: string | null) =>
    filter && FILTER_ORDER.includes(filter) ? FILTER_ORDER.indexOf(filter) : FILTER_ORDER.length;
  return place(a) - place(b) || (a ?? '').localeCompare(b ?? '');
}
