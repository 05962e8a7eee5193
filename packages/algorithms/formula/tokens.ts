import { createToken, type IToken, Lexer } from 'chevrotain';

const plain = (name: string, pattern: RegExp | string, label: string) => createToken({ name, pattern, label });

/** The words and signs of the formula language; labels are what errors call them. */
export const TOKENS = {
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
  TOKENS.Space,
  TOKENS.Comment,
  TOKENS.Newline,
  TOKENS.Semicolon,
  TOKENS.Number,
  TOKENS.Quoted,
  TOKENS.Name,
  TOKENS.And,
  TOKENS.Or,
  TOKENS.Compare,
  TOKENS.Not,
  TOKENS.Assign,
  TOKENS.Sum,
  TOKENS.Product,
  TOKENS.Power,
  TOKENS.Question,
  TOKENS.Colon,
  TOKENS.Comma,
  TOKENS.Dot,
  TOKENS.Open,
  TOKENS.Close,
];

const lexer = new Lexer(ORDER, { positionTracking: 'full' });

/** Tokens after which a line cannot have ended. */
const OPEN_ENDED = new Set(
  [
    TOKENS.And,
    TOKENS.Or,
    TOKENS.Compare,
    TOKENS.Not,
    TOKENS.Assign,
    TOKENS.Sum,
    TOKENS.Product,
    TOKENS.Power,
    TOKENS.Question,
    TOKENS.Colon,
    TOKENS.Comma,
    TOKENS.Open,
  ].map((t) => t.name),
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
    if (token.tokenType === TOKENS.Open) depth++;
    if (token.tokenType === TOKENS.Close) depth--;
    const last = kept[kept.length - 1];
    const goesOn = token.tokenType === TOKENS.Newline && (depth > 0 || (last && OPEN_ENDED.has(last.tokenType.name)));
    if (!goesOn) kept.push(token);
  }
  return { tokens: kept, strange };
}

export const ALL_TOKENS = ORDER;
