/** A place in a formula, both counted from 1. */
export interface Place {
  readonly line: number;
  readonly column: number;
}

export type BinaryOp = '+' | '-' | '*' | '/' | '^' | '<' | '<=' | '>' | '>=' | '==' | '!=' | '&&' | '||';

/** A formula's expression as a tree. */
export type Expression =
  | { readonly kind: 'number'; readonly value: number }
  | {
      readonly kind: 'name';
      readonly name: string;
      readonly plane?: string;
      readonly place: Place;
      readonly planePlace?: Place;
    }
  | { readonly kind: 'unary'; readonly op: '-' | '!'; readonly of: Expression }
  | { readonly kind: 'binary'; readonly op: BinaryOp; readonly left: Expression; readonly right: Expression }
  | { readonly kind: 'choice'; readonly test: Expression; readonly yes: Expression; readonly no: Expression }
  | { readonly kind: 'call'; readonly name: string; readonly args: readonly Expression[]; readonly place: Place };

/** One line: a name that is given a value, or a value that is the result. */
export interface Statement {
  readonly name?: string;
  readonly value: Expression;
  readonly place: Place;
}
