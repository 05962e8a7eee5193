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

/** A file's name that tells that its stars were taken out. */
const STARLESS = /star[\s_-]?less|(?<![a-z])(no|without)[\s_-]?stars?(?![a-z])/i;

/** The known filter that a word names, if it names one. */
export function knownFilter(word: string): string | undefined {
  return PATTERNS.find(([, pattern]) => pattern.test(word.trim()))?.[0];
}

/**
 * Which filter an image was taken through: by its FILTER card, else by a word of its file name; the card's own words where they are
 * no known filter. One of three planes is never one narrow filter. A file whose name says that its stars were taken out is of a filter of its
 * own, `Ha starless`. Undefined where nothing tells.
 */
export function guessFilter(cards: readonly Card[], fileName: string, planes = 1): string | undefined {
  const name = fileName.replace(STARLESS, ' ');
  const filter = planes === 3 ? colourFilter(cards, name) : plainFilter(cards, name);
  return STARLESS.test(fileName) ? [filter, 'starless'].filter(Boolean).join(' ') : filter;
}

const filterCard = (cards: readonly Card[]): string | undefined =>
  (textOf(cards, 'FILTER') ?? textOf(cards, 'INSFLNAM'))?.trim();

/** Words for a filter that passes two lines to a colour camera. */
const DUAL = /(?<![a-z])(dual|duo|two)([\s_-]?(band|line))?(?![a-z])|h[\s_-]?a(lpha)?[\s_+-]*o[\s_-]?(iii|3)(?![a-z])/i;

/** What a colour file is called, which is never one narrow filter: by its card, else by a word of its name for two lines, else plain colour. */
function colourFilter(cards: readonly Card[], fileName: string): string {
  const card = filterCard(cards);
  if (card && !knownFilter(card)) return card;
  return DUAL.test(fileName) ? 'dual band' : 'colour';
}

/** Whether a colour stack's filter passes two lines. */
export const isDualBand = (filter: string | null): boolean => filter !== null && DUAL.test(filter);

function plainFilter(cards: readonly Card[], fileName: string): string | undefined {
  const card = filterCard(cards);
  const byCard = card ? knownFilter(card) : undefined;
  if (byCard) return byCard;
  const stem = fileName.replace(/\.(fits?|fts|fz|gz)$/gi, '').replace(/\.(fits?|fts)$/i, '');
  const words = stem.split(/[\s_.,()[\]+-]+/).filter(Boolean);
  const byName = words.reverse().map(knownFilter).find(Boolean) ?? knownFilter(stem);
  return byName ?? (card || undefined);
}

const positive = (value: number | undefined): number | undefined =>
  value !== undefined && value > 0 && Number.isFinite(value) ? value : undefined;

const firstOf = (cards: readonly Card[], keys: readonly string[]): number | undefined =>
  keys.map((key) => positive(numberOf(cards, key))).find((value) => value !== undefined);

/** Cards in which stacking writes how many frames it combined, and how long they were together. */
const COUNTS = ['NCOMBINE', 'NFRAMES', 'NSUBS', 'NIMAGES', 'STACKCNT', 'NUMFRAME'];
const TOTALS = ['EXPTOTAL', 'TOTALEXP', 'TOTEXP', 'TEXPTIME', 'LIVETIME'];
/** No single frame is exposed for longer: an EXPTIME above it is that of all frames together. */
const LONGEST_FRAME = 3600;

/** `240x300s` in a file's name: so many frames of so many seconds. */
function framesInName(fileName: string): { count: number; seconds: number } | undefined {
  const found = /(?:^|[^\d.])(\d{1,5})\s*[x×]\s*(\d+(?:\.\d+)?)\s*(s|sec|secs|seconds?|m|min)(?![a-z])/i.exec(fileName);
  if (!found) return undefined;
  const [count, length] = [Number(found[1]), Number(found[2])];
  const seconds = found[3].toLowerCase().startsWith('m') ? 60 * length : length;
  return count > 0 && seconds > 0 ? { count, seconds } : undefined;
}

/**
 * Exposure of a stack in seconds, all frames together. EXPTIME (or EXPOSURE) may be that of one frame: where cards or the file's name tell
 * how many frames were combined, it is multiplied, unless it is too long for one. Undefined where nothing tells.
 */
export function guessExposure(cards: readonly Card[], fileName = ''): number | undefined {
  const total = firstOf(cards, TOTALS);
  if (total !== undefined) return total;
  const seconds = firstOf(cards, ['EXPTIME', 'EXPOSURE']);
  const named = framesInName(fileName);
  // The name says how long a frame was: an EXPTIME well above that holds them all.
  if (named) return seconds !== undefined && seconds > 1.5 * named.seconds ? seconds : named.count * named.seconds;
  const count = firstOf(cards, COUNTS);
  if (seconds === undefined) return undefined;
  return count !== undefined && count > 1 && seconds <= LONGEST_FRAME ? Math.round(count) * seconds : seconds;
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

/** Lines first, by brightness, then the broad ones. */
const ORDER: readonly string[] = KNOWN_FILTERS;

/** Sorts filters as people lay them out; unknown ones come last, by name. */
export function compareFilters(a: string | null, b: string | null): number {
  const place = (filter: string | null) => (filter && ORDER.includes(filter) ? ORDER.indexOf(filter) : ORDER.length);
  return place(a) - place(b) || (a ?? '').localeCompare(b ?? '');
}
