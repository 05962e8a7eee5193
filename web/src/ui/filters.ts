const COLOURS: Record<string, string> = {
  Ha: 'var(--color-ha)',
  OIII: 'var(--color-oiii)',
  SII: 'var(--color-sii)',
  L: 'var(--color-lum)',
  R: 'var(--color-red)',
  G: 'var(--color-green)',
  B: 'var(--color-blue)',
};

/** The colour of a filter's thread, without its stars too; a plain one for filters of other names. */
export const filterColour = (filter: string | null | undefined): string =>
  COLOURS[filter?.replace(/ starless$/, '') ?? ''] ?? 'var(--color-soft)';
