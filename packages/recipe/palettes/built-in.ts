import type { Layer, Recipe, Strand } from '../schema';
import type { Palette } from './palette';

const LINES = ['Ha', 'OIII', 'SII'] as const;
type Line = (typeof LINES)[number];

const NAMES: Readonly<Record<Line, string>> = { Ha: 'hydrogen', OIII: 'oxygen', SII: 'sulfur' };

const plain = (filter: string): Strand => ({ id: filter, from: { stack: filter }, steps: [] });

/** The lines that are used, the others brought to the brightness of the strongest. */
function fitted(used: readonly Line[]): Strand[] {
  const [first, ...others] = LINES.filter((line) => used.includes(line));
  return [plain(first), ...others.map((line) => ({ ...plain(line), steps: [{ do: 'linear-fit', to: first }] }))];
}

const woven = (name: string, strands: readonly Strand[], layers: readonly Layer[]): Recipe => ({
  format: 'owl-loom-recipe',
  version: 1,
  name,
  strands: [...strands],
  cloth: { layers: [...layers] },
});

const columns = (red: string, green: string, blue: string) => ({
  red: { [red]: 1 },
  green: { [green]: 1 },
  blue: { [blue]: 1 },
});

/** One sky in all planes, which a fit of unlike images cannot bring about, and a little darker than by itself: colours stand out of it. */
const shown = [{ do: 'level-sky' }, { do: 'stretch', target: 0.13 }];

/** A line under each colour. */
function ofLines(name: string, [red, green, blue]: readonly [Line, Line, Line]): Palette {
  const mix = { mix: columns(red, green, blue), weights: 'share' as const };
  const layer: Layer = { id: 'base', of: mix, steps: shown };
  const says =
    green === blue
      ? `${NAMES[red]} in red, ${NAMES[green]} in green and blue`
      : `${NAMES[red]} in red, ${NAMES[green]} in green, ${NAMES[blue]} in blue`;
  return { name, says, recipe: woven(name, fitted([red, green, blue]), [layer]) };
}

const daylight: Strand = {
  id: 'RGB',
  from: { mix: columns('R', 'G', 'B'), weights: 'as-is' },
  steps: [{ do: 'calibrate' }, { do: 'level-sky' }],
};

/** Daylight colours with hydrogen, free of starlight, laid onto their red and a little onto their blue. */
const lit: Strand = {
  id: 'lit',
  from: {
    formula:
      'h = max(0, Ha - sky(Ha) - 2 * noise(Ha))\nred = RGB.red + 0.6 * h\ngreen = RGB.green + 0.07 * h\nblue = RGB.blue + 0.2 * h',
  },
  steps: [],
};

const hydrogen: Strand = { ...plain('Ha'), steps: [{ do: 'continuum', broad: 'R', matchSeeing: true, mend: true }] };

/** A luminance over a colour strand, both still linear. */
const under = (colour: string, luminance: string): Layer['of'] => ({
  mix: { ...columns(colour, colour, colour), luminance: { [luminance]: 1 } },
  weights: 'as-is',
});

const broad = [plain('R'), plain('G'), plain('B')];

/** The palettes that come with Owl Loom. */
export const BUILT_IN_PALETTES: readonly Palette[] = [
  ofLines('SHO', ['SII', 'Ha', 'OIII']),
  ofLines('HSO', ['Ha', 'SII', 'OIII']),
  ofLines('OHS', ['OIII', 'Ha', 'SII']),
  ofLines('HOO', ['Ha', 'OIII', 'OIII']),
  ofLines('SOO', ['SII', 'OIII', 'OIII']),
  {
    name: 'Two lines, made green',
    says: 'hydrogen in red, oxygen in blue, a green made where both are strong',
    recipe: woven(
      'Two lines, made green',
      [
        ...fitted(['Ha', 'OIII']),
        {
          id: 'green',
          from: { formula: 'sky(Ha) + sqrt(max(0, Ha - sky(Ha)) * max(0, OIII - sky(OIII)))' },
          steps: [{ do: 'linear-fit', to: 'Ha' }],
        },
      ],
      [
        {
          id: 'base',
          of: { mix: { red: { Ha: 1 }, green: { green: 0.6, OIII: 0.4 }, blue: { OIII: 1 } }, weights: 'share' },
          steps: shown,
        },
      ],
    ),
  },
  {
    name: 'SHO, Ha as luminance',
    says: 'the three lines in colour, hydrogen for depth and detail',
    recipe: woven('SHO, Ha as luminance', fitted(LINES), [
      {
        id: 'base',
        of: { mix: { ...columns('SII', 'Ha', 'OIII'), luminance: { Ha: 1 } }, weights: 'share' },
        steps: shown,
      },
    ]),
  },
  {
    name: 'SOO, hydrogen on top',
    says: 'sulfur in red, oxygen in green and blue, hydrogen laid on as warm light by screen',
    recipe: woven('SOO, hydrogen on top', fitted(LINES), [
      {
        id: 'base',
        of: { mix: columns('SII', 'OIII', 'OIII'), weights: 'share' },
        steps: shown,
      },
      {
        id: 'warmth',
        of: { strand: 'Ha' },
        steps: [
          { do: 'stretch', target: 0.1 },
          { do: 'levels', black: 0.12 },
          { do: 'tint', colour: '#ffb066' },
        ],
        blend: 'screen',
        opacity: 0.55,
      },
    ]),
  },
  {
    name: 'RGB',
    says: 'daylight: red, green and blue, the mean star white',
    recipe: woven('RGB', [...broad, daylight], [{ id: 'daylight', of: { strand: 'RGB' }, steps: shown }]),
  },
  {
    name: 'LRGB',
    says: 'daylight colours under the luminance filter',
    recipe: woven('LRGB', [...broad, plain('L'), daylight], [{ id: 'daylight', of: under('RGB', 'L'), steps: shown }]),
  },
  {
    name: 'HaRGB',
    says: 'daylight colours with hydrogen, free of starlight, in their red',
    recipe: woven(
      'HaRGB',
      [...broad, hydrogen, daylight, lit],
      [{ id: 'daylight', of: { strand: 'lit' }, steps: shown }],
    ),
  },
  {
    name: 'HaLRGB',
    says: 'daylight colours with hydrogen, under the luminance filter',
    recipe: woven(
      'HaLRGB',
      [...broad, plain('L'), hydrogen, daylight, lit],
      [{ id: 'daylight', of: under('lit', 'L'), steps: shown }],
    ),
  },
];
