import { type Card, numberOf, textOf } from '../fits/cards';

/** Filters that have a colour of their own in the interface; any other name is kept as it is written. */
export const KNOWN_FILTERS = ['Ha', 'OIII', 'SII', 'L', 'R', 'G', 'B'] as const;

const PATTERNS: readonly (readonly [string, RegExp])[] = [
  ['Ha', /^(h[\s_-]?a(lpha)?|ha\d*(nm)?|hydrogen([\s_-]?alpha)?|656(\.3)?(nm)?)$/i],
  ['OIII', /^(o[\s_-]?(iii|3)(\d*nm)?|oxygen([\s_-]?iii)?|501(nm)?)$/i],
  ['SII', /^(s[\s_-]?(ii|2)(\d*nm)?|sul(f|ph)ur([\s_-]?ii)?|672(nm)?)$/i],
  ['L', /^(l|lum(inance)?|clear)$/i],
  ['R', /^(r|red)$/i],
  ['G', /^(g|green)$/i],
  ['B', /^(b|blue)$/i],
];

/** The known filter that a word names, if it names one. */
export function knownFilter(word: string): string | undefined {
  return PATTERNS.find(([, pattern]) => pattern.test(word.trim()))?.[0];
}

/**
 * Which filter an image was taken through: by its FILTER card, else by a word of its file name; the card's own words where they are
 * no known filter. Undefined where nothing tells.
 */
export function guessFilter(cards: readonly Card[], fileName: string): string | undefined {
  const card = (textOf(cards, 'FILTER') ?? textOf(cards, 'INSFLNAM'))?.trim();
  const byCard = card ? knownFilter(card) : undefined;
  if (byCard) return byCard;
  const stem = fileName.replace(/\.(fits?|fts|fz|gz)$/gi, '').replace(/\.(fits?|fts)$/i, '');
  const words = stem.split(/[\s_.,()[\]+-]+/).filter(Boolean);
  const byName = words.reverse().map(knownFilter).find(Boolean) ?? knownFilter(stem);
  return byName ?? (card || undefined);
}

/** Exposure in seconds by the EXPTIME or EXPOSURE card; undefined where there is none above 0. */
export function guessExposure(cards: readonly Card[]): number | undefined {
  const seconds = numberOf(cards, 'EXPTIME') ?? numberOf(cards, 'EXPOSURE');
  return seconds !== undefined && seconds > 0 ? seconds : undefined;
}

/** Wavelengths of the known lines, and the middles of the broad filters, in nanometres; a clear filter has none. */
const WAVELENGTHS: Readonly<Record<string, number>> = { Ha: 656.3, OIII: 500.7, SII: 672.4, R: 640, G: 530, B: 450 };

/** The wavelength of a filter in nanometres: that of a known one, else a number of nanometres in its name; undefined where nothing tells. */
export function guessWavelength(filter: string | undefined): number | undefined {
  if (filter === undefined) return undefined;
  const known = WAVELENGTHS[knownFilter(filter) ?? ''];
  if (known !== undefined) return known;
  // Widths are given in nanometres as well, but no filter is hundreds wide.
  const named = /(?:^|[^\d.])(\d{3,4}(?:\.\d+)?)\s*(?:nm)?(?:$|[^\d.])/.exec(filter);
  const value = named ? Number(named[1]) : Number.NaN;
  return value >= 300 && value <= 1100 ? value : undefined;
}
