import { type CompletionContext, type CompletionResult, snippetCompletion } from '@codemirror/autocomplete';
import { HighlightStyle, StreamLanguage, syntaxHighlighting } from '@codemirror/language';
import type { Diagnostic } from '@codemirror/lint';
import type { EditorView } from '@codemirror/view';
import { tags } from '@lezer/highlight';
import { UserError } from '@owl-loom/base/errors';
import { compileFormula } from '@owl-loom/algorithms/formula/compile';
import { FUNCTIONS, IMAGE_FUNCTIONS } from '@owl-loom/algorithms/formula/functions';

/** Every function as it is written, with what it gives. */
export const FUNCTION_LIST: readonly { name: string; form: string; says: string }[] = [
  ...[...FUNCTIONS].map(([name, { form, says }]) => ({ name, form, says })),
  { name: 'luminance', form: 'luminance(C)', says: 'brightness of a colour' },
  ...[...IMAGE_FUNCTIONS].map(([name, { form, says }]) => ({ name, form, says })),
];

const WORDS = new Set(FUNCTION_LIST.map(({ name }) => name));

/** Colours of a formula: strands in the lamp's colour, functions and numbers quieter, comments dim. */
export function highlighting(strands: ReadonlySet<string>) {
  const language = StreamLanguage.define({
    token(stream) {
      if (stream.eatSpace()) return null;
      if (stream.match(/^#.*/)) return 'comment';
      if (stream.match(/^(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?/)) return 'number';
      const word = stream.match(/^[A-Za-z_\u00aa-\ud7ff][A-Za-z0-9_\u00aa-\ud7ff]*/);
      if (word && Array.isArray(word))
        return strands.has(word[0]) ? 'atom' : WORDS.has(word[0]) ? 'keyword' : 'variableName';
      if (stream.match(/^"[^"]*"?/)) return 'atom';
      stream.next();
      return 'operator';
    },
  });
  const style = HighlightStyle.define([
    { tag: tags.atom, color: '#f0b061' },
    { tag: tags.keyword, color: '#b9c8d6' },
    { tag: tags.number, color: '#d9d9d9' },
    { tag: tags.variableName, color: '#ececec' },
    { tag: tags.operator, color: '#9b9b9b' },
    { tag: tags.comment, color: '#777777', fontStyle: 'italic' },
  ]);
  return [language, syntaxHighlighting(style)];
}

const written = (name: string): string =>
  /^[A-Za-z_\u00aa-\ud7ff][A-Za-z0-9_\u00aa-\ud7ff]*$/.test(name) ? name : `"${name}"`;

/** Completion of strands, planes and functions. */
export const completion =
  (known: ReadonlyMap<string, 1 | 3>) =>
  (context: CompletionContext): CompletionResult | null => {
    const plane = context.matchBefore(/\.\w*/);
    if (plane)
      return { from: plane.from + 1, options: ['red', 'green', 'blue'].map((label) => ({ label, type: 'property' })) };
    const word = context.matchBefore(/[\w"\u00aa-\ud7ff]+/);
    if (!word && !context.explicit) return null;
    return {
      from: word?.from ?? context.pos,
      options: [
        ...[...known.keys()].map((name) => ({
          label: written(name),
          type: 'variable',
          detail: known.get(name) === 3 ? 'colour strand' : 'strand',
          boost: 2,
        })),
        ...FUNCTION_LIST.map(({ name, form, says }) =>
          snippetCompletion(`${name}(\${})`, { label: name, type: 'function', detail: form, info: says }),
        ),
      ],
    };
  };

/** The fault of a formula as a mark under what it names. */
export const check =
  (known: ReadonlyMap<string, 1 | 3>) =>
  (view: EditorView): Diagnostic[] => {
    try {
      compileFormula(view.state.doc.toString(), known);
      return [];
    } catch (error) {
      if (!(error instanceof UserError)) throw error;
      const place = /^line (\d+), column (\d+): (.*)$/s.exec(error.message);
      if (!place) return [{ from: 0, to: view.state.doc.length, severity: 'error', message: error.message }];
      const line = view.state.doc.line(Math.min(view.state.doc.lines, Number(place[1])));
      const from = Math.min(line.to, line.from + Number(place[2]) - 1);
      const rest = /^([\w\u00aa-\ud7ff]+|.)/.exec(view.state.sliceDoc(from, line.to));
      // At the end of a line there is nothing to underline but what stands before.
      return [
        {
          from: rest ? from : Math.max(line.from, from - 1),
          to: rest ? from + rest[0].length : from,
          severity: 'error',
          message: place[3],
        },
      ];
    }
  };
