/** Tries by those that know what people take, as a power of ten: fewer are made within days by a machine that has the hash. */
const LEAST = 8;

/** What is wrong with a password that is soon estimated, by the words of the one who estimates. */
const WHY: Readonly<Record<string, string>> = {
  topTen: 'is one of the ten commonest',
  topHundred: 'is one of the hundred commonest',
  common: 'is one of the commonest',
  similarToCommon: 'is like one of the commonest',
  sequences: 'is a row of letters or digits',
  recentYears: 'is little more than a year',
  dates: 'is little more than a date',
  straightRow: 'is a row of keys',
  keyPattern: 'is a pattern of keys',
  simpleRepeat: 'is nearly one letter alone',
  extendedRepeat: 'is the same over and over',
  wordByItself: 'is a single word',
  namesByThemselves: 'is a name',
  commonNames: 'is a name',
};

/**
 * Why a password is soon estimated: it is tried against lists of what people take, patterns of keys, dates and repeats.
 * @returns words that go on from "This password"; undefined where it is good
 */
export async function weakness(password: string): Promise<string | undefined> {
  // Large lists, for the moment in which a password is set.
  const [{ ZxcvbnFactory }, { dictionary, adjacencyGraphs }] = await Promise.all([
    import('@zxcvbn-ts/core'),
    import('@zxcvbn-ts/language-common'),
  ]);
  const { guessesLog10, feedback } = new ZxcvbnFactory({ dictionary, graphs: adjacencyGraphs }).check(password);
  if (guessesLog10 >= LEAST) return undefined;
  return WHY[feedback.warning ?? ''] ?? 'is soon guessed';
}
