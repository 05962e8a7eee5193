import { createToken, type IToken, Lexer } from 'chevrotain';

const plain = (name: string, pattern: RegExp | string, label: string) => createToken({ name, pattern, label });

/** The words and signs of the formula language; labels are what errors call them. */
export const T = {
  Space: createToken({ name: 'Space', pattern: /[ \t\r\f]+/, group: Lexer.SKIPPED }),
  Comment: createToken({ name: 'Comment', pattern: /#[^\n]*/, group: Lexer.SKIPPED }),
  Newline: plain('Newline', /\n/, 'the end of the line'),
  Semicolon: plain('Semicolon', ';', '";"'),
  Number: plain('Number', /(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?/, 'a number'),
  Quoted: plain('Quoted', /"[^"\n]*"/, 'a name'),
  Name: plain('Name', /[A-Za-z_\u00aa-\ud7ff][A-Za-z0-9_\u00aa-\ud7ff]*/, 'a name'),
  And: plain('And', '&&', '"&&"'),
  Or: plain('Or', '||', '"||"'),
  Compare: plain('Compare', /<=|>=|==|!=|<|>/, 'a comparison'),
  Not: plain('Not', '!', '"!"'),
  Assign: plain('Assign', '=', '"="'),
  Sum: plain('Sum', /[+-]/, '"+" or "-"'),
  Product: plain('Product', /[*/]/, '"*" or "/"'),
  Power: plain('Power', '^', '"^"'),
  Question: plain('Question', '?', '"?"'),
  Colon: plain('Colon', ':', '":"'),
  Comma: plain('Comma', ',', '","'),
  Dot: plain('Dot', '.', '"."'),
  Open: plain('Open', '(', '"("'),
  Close: plain('Close', ')', '")"'),
};

// A number that begins with a dot goes before the dot alone; comparisons with two signs before "=" and "!".
const ORDER = [
  T.Space,
  T.Comment,
  T.Newline,
  T.Semicolon,
  T.Number,
  T.Quoted,
  T.Name,
  T.And,
  T.Or,
  T.Compare,
  T.Not,
  T.Assign,
  T.Sum,
  T.Product,
  T.Power,
  T.Question,
  T.Colon,
  T.Comma,
  T.Dot,
  T.Open,
  T.Close,
];

const lexer = new Lexer(ORDER, { positionTracking: 'full' });

/** Tokens after which a line cannot have ended. */
const OPEN_ENDED = new Set(
  [T.And, T.Or, T.Compare, T.Not, T.Assign, T.Sum, T.Product, T.Power, T.Question, T.Colon, T.Comma, T.Open].map(
    (t) => t.name,
  ),
);

/** The words of a formula; line ends inside brackets and after an operator are left out, since the line goes on there. */
export function tokensOf(text: string): { tokens: IToken[]; strange?: { line: number; column: number; sign: string } } {
  const { tokens, errors } = lexer.tokenize(text);
  const [first] = errors;
  const strange = first
    ? {
        line: first.line ?? 1,
        column: first.column ?? 1,
        sign: String.fromCodePoint(text.codePointAt(first.offset) ?? 32),
      }
    : undefined;
  const kept: IToken[] = [];
  let depth = 0;
  for (const token of tokens) {
    if (token.tokenType === T.Open) depth++;
    if (token.tokenType === T.Close) depth--;
    const last = kept[kept.length - 1];
    const goesOn = token.tokenType === T.Newline && (depth > 0 || (last && OPEN_ENDED.has(last.tokenType.name)));
    if (!goesOn) kept.push(token);
  }
  return { tokens: kept, strange };
}

export const ALL_TOKENS = ORDER;
