import { EmbeddedActionsParser, EOF, type IToken, MismatchedTokenException, NoViableAltException } from 'chevrotain';
import { UserError } from '@owl-loom/base/errors';
import type { BinaryOp, Expression, Place, Statement } from './ast';
import { ALL_TOKENS, TOKENS, tokensOf } from './tokens';

/** Words of a formula at most, and brackets within brackets. */
const MOST_WORDS = 5000;
const DEEPEST = 100;

const placeOf = (token: IToken): Place => ({ line: token.startLine ?? 1, column: token.startColumn ?? 1 });

/** The sentence for a fault at a place; the page underlines what the place names. */
export const errorAt = ({ line, column }: Place, message: string): UserError =>
  new UserError('formula', `line ${line}, column ${column}: ${message}`);

/**
 * The grammar, loosest binding first: `c ? a : b`, `||`, `&&`, comparisons, `+ -`, `* /`, signs, `^`. Signs bind less than `^`, so that
 * `-x^2` is −(x²); `^` groups to the right.
 */
class FormulaParser extends EmbeddedActionsParser {
  private depth = 0;

  constructor() {
    super(ALL_TOKENS, { recoveryEnabled: false, maxLookahead: 2 });
    this.performSelfAnalysis();
  }

  readonly formula = this.RULE('formula', (): Statement[] => {
    const statements: Statement[] = [];
    this.MANY(() => this.SUBRULE(this.ends));
    this.OPTION(() => {
      statements.push(this.SUBRULE(this.statement));
      this.MANY1(() => {
        this.SUBRULE1(this.ends);
        this.OPTION1(() => statements.push(this.SUBRULE1(this.statement)));
      });
    });
    return statements;
  });

  private readonly ends = this.RULE('ends', () => {
    this.OR([{ ALT: () => this.CONSUME(TOKENS.Newline) }, { ALT: () => this.CONSUME(TOKENS.Semicolon) }]);
  });

  private readonly statement = this.RULE(
    'statement',
    (): Statement =>
      this.OR([
        {
          GATE: () => this.LA(2).tokenType === TOKENS.Assign,
          ALT: () => {
            const name = this.CONSUME(TOKENS.Name);
            this.CONSUME(TOKENS.Assign);
            return { name: name.image, value: this.SUBRULE(this.choice), place: placeOf(name) };
          },
        },
        {
          ALT: () => {
            const place = placeOf(this.LA(1));
            return { value: this.SUBRULE1(this.choice), place };
          },
        },
      ]),
  );

  private readonly choice: () => Expression = this.RULE('choice', (): Expression => {
    this.ACTION(() => {
      if (++this.depth > DEEPEST)
        throw errorAt(
          placeOf(this.LA(1)),
          `this is nested more than ${DEEPEST} deep; break it up with names of your own.`,
        );
    });
    const test = this.SUBRULE(this.either);
    let found = test;
    this.OPTION(() => {
      this.CONSUME(TOKENS.Question);
      const yes = this.SUBRULE(this.choice);
      this.CONSUME(TOKENS.Colon);
      found = { kind: 'choice', test, yes, no: this.SUBRULE1(this.choice) };
    });
    this.ACTION(() => {
      this.depth--;
    });
    return found;
  });

  private readonly either = this.RULE('either', (): Expression => {
    let left = this.SUBRULE(this.both);
    this.MANY(() => {
      this.CONSUME(TOKENS.Or);
      left = { kind: 'binary', op: '||', left, right: this.SUBRULE1(this.both) };
    });
    return left;
  });

  private readonly both = this.RULE('both', (): Expression => {
    let left = this.SUBRULE(this.comparison);
    this.MANY(() => {
      this.CONSUME(TOKENS.And);
      left = { kind: 'binary', op: '&&', left, right: this.SUBRULE1(this.comparison) };
    });
    return left;
  });

  private readonly comparison = this.RULE('comparison', (): Expression => {
    let left = this.SUBRULE(this.sum);
    this.MANY(() => {
      const op = this.CONSUME(TOKENS.Compare).image as BinaryOp;
      left = { kind: 'binary', op, left, right: this.SUBRULE1(this.sum) };
    });
    return left;
  });

  private readonly sum = this.RULE('sum', (): Expression => {
    let left = this.SUBRULE(this.product);
    this.MANY(() => {
      const op = this.CONSUME(TOKENS.Sum).image as BinaryOp;
      left = { kind: 'binary', op, left, right: this.SUBRULE1(this.product) };
    });
    return left;
  });

  private readonly product = this.RULE('product', (): Expression => {
    let left = this.SUBRULE(this.signed);
    this.MANY(() => {
      const op = this.CONSUME(TOKENS.Product).image as BinaryOp;
      left = { kind: 'binary', op, left, right: this.SUBRULE1(this.signed) };
    });
    return left;
  });

  private readonly signed: () => Expression = this.RULE('signed', (): Expression => {
    const signs: string[] = [];
    this.MANY(() => {
      signs.push(
        this.OR([{ ALT: () => this.CONSUME(TOKENS.Sum).image }, { ALT: () => this.CONSUME(TOKENS.Not).image }]),
      );
    });
    const value = this.SUBRULE(this.power);
    // From the inside out; a plus sign changes nothing.
    return signs
      .reverse()
      .reduce(
        (of: Expression, sign) => (sign === '+' ? of : { kind: 'unary', op: sign === '!' ? '!' : '-', of }),
        value,
      );
  });

  private readonly power = this.RULE('power', (): Expression => {
    const bases = [this.SUBRULE(this.atom)];
    const signs: string[][] = [[]];
    this.MANY(() => {
      this.CONSUME(TOKENS.Power);
      const own: string[] = [];
      this.MANY1(() => own.push(this.CONSUME(TOKENS.Sum).image));
      signs.push(own);
      bases.push(this.SUBRULE1(this.atom));
    });
    let right = bases[bases.length - 1];
    for (let i = bases.length - 1; i > 0; i--) {
      const minus = signs[i].filter((sign) => sign === '-').length % 2 === 1;
      right = {
        kind: 'binary',
        op: '^',
        left: bases[i - 1],
        right: minus ? { kind: 'unary', op: '-', of: right } : right,
      };
    }
    return right;
  });

  private readonly atom = this.RULE(
    'atom',
    (): Expression =>
      this.OR([
        { ALT: (): Expression => ({ kind: 'number', value: Number(this.CONSUME(TOKENS.Number).image) }) },
        {
          ALT: (): Expression => {
            this.CONSUME(TOKENS.Open);
            const inner = this.SUBRULE(this.choice);
            this.CONSUME(TOKENS.Close);
            return inner;
          },
        },
        {
          GATE: () => this.LA(2).tokenType === TOKENS.Open,
          ALT: (): Expression => {
            const name = this.CONSUME(TOKENS.Name);
            this.CONSUME1(TOKENS.Open);
            const args: Expression[] = [];
            this.MANY_SEP({ SEP: TOKENS.Comma, DEF: () => args.push(this.SUBRULE1(this.choice)) });
            this.CONSUME1(TOKENS.Close);
            return { kind: 'call', name: name.image, args, place: placeOf(name) };
          },
        },
        {
          ALT: (): Expression => {
            const token = this.OR1([
              { ALT: () => this.CONSUME1(TOKENS.Name) },
              { ALT: () => this.CONSUME(TOKENS.Quoted) },
            ]);
            const name = token.tokenType === TOKENS.Quoted ? token.image.slice(1, -1) : token.image;
            const place = placeOf(token);
            let plane: IToken | undefined;
            this.OPTION(() => {
              this.CONSUME(TOKENS.Dot);
              plane = this.CONSUME2(TOKENS.Name);
            });
            return { kind: 'name', name, place, plane: plane?.image, planePlace: plane && placeOf(plane) };
          },
        },
      ]),
  );

  begin(tokens: IToken[]): void {
    this.input = tokens;
    this.depth = 0;
  }
}

const parser = new FormulaParser();

/** What may begin a value, for errors where one is missing. */
const VALUE = 'a number, a name or "("';

function expectedBy(error: Error, near: IToken): string {
  if (error instanceof NoViableAltException) return VALUE;
  if (error instanceof MismatchedTokenException) {
    const label = /--> (.*?) <--/.exec(error.message)?.[1];
    return label ?? VALUE;
  }
  return near.tokenType === TOKENS.Close
    ? 'an operator or the end of the line (no "(" is open)'
    : 'an operator or the end of the line';
}

/**
 * Parses a formula.
 * @throws UserError with line, column and what was expected
 */
export function parseFormula(text: string): Statement[] {
  const { tokens, strange } = tokensOf(text);
  if (strange)
    throw errorAt(strange, `"${strange.sign}" has no meaning here; expected a number, a name or an operator.`);
  if (tokens.length > MOST_WORDS)
    throw errorAt(
      placeOf(tokens[MOST_WORDS]),
      `a formula has at most ${MOST_WORDS} words; break it up into several strands.`,
    );
  parser.begin(tokens);
  const statements = parser.formula();
  const [error] = parser.errors;
  if (error) {
    const at = error.token.tokenType === EOF ? endOf(text) : placeOf(error.token);
    const found =
      error.token.tokenType === EOF
        ? 'the formula ends'
        : error.token.tokenType === TOKENS.Newline
          ? 'the line ends'
          : `"${error.token.image}" stands`;
    throw errorAt(at, `${found} where ${expectedBy(error, error.token)} was expected.`);
  }
  return statements;
}

function endOf(text: string): Place {
  const lines = text.split('\n');
  return { line: lines.length, column: lines[lines.length - 1].length + 1 };
}
