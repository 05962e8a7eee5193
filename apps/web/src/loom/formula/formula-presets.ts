/** A formula to begin with, in the words of whoever wants it. */
export interface FormulaStart {
  readonly name: string;
  readonly says: string;
  readonly text: string;
}

const pick = (ids: readonly string[], wanted: RegExp, fallback: number): string =>
  ids.find((id) => wanted.test(id)) ?? ids[Math.min(fallback, ids.length - 1)] ?? 'Ha';
const written = (id: string): string =>
  /^[A-Za-z_\u00aa-\ud7ff][A-Za-z0-9_\u00aa-\ud7ff]*$/.test(id) ? id : `"${id}"`;

/** The shapes that people use most, with this recipe's own strands in them. */
export function formulaStarts(ids: readonly string[]): FormulaStart[] {
  const ha = written(pick(ids, /^h/i, 0));
  const oxygen = written(pick(ids, /^o/i, 1));
  const sulfur = written(pick(ids, /^s/i, 2));
  const red = written(pick(ids, /^(r|red)$/i, 1));
  return [
    {
      name: 'Blend a line into red',
      says: '40 % of the line, 60 % of broadband red',
      text: `mix(${red}, ${ha}, 0.4)`,
    },
    {
      name: 'Add continuum-subtracted line to red',
      says: 'the line without starlight, added to red',
      text: `k = 0.2\nline = ${ha} - k * (${red} - sky(${red}))\n${red} + max(0, line - sky(${ha}))`,
    },
    {
      name: 'Synthetic green from two lines',
      says: 'hydrogen where it is strong, oxygen elsewhere',
      text: `w = clamp(${ha} * ${oxygen}, 0, 1) ^ 0.5\nmix(${oxygen}, ${ha}, w)`,
    },
    {
      name: 'Maximum of two',
      says: 'per pixel, relative to the sky of each',
      text: `sky(${ha}) + max(${ha} - sky(${ha}), ${sulfur} - sky(${sulfur}))`,
    },
    {
      name: 'Screen of two',
      says: 'combines both without clipping; for stretched strands',
      text: `screen(${ha}, ${oxygen})`,
    },
  ];
}
