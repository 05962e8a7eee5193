/** Units that may stand behind a number, by what they make of it; degrees, pixels and nanometres are what our numbers are in already. */
const UNITS: Readonly<Record<string, number>> = {
  '%': 0.01,
  px: 1,
  pixels: 1,
  '°': 1,
  deg: 1,
  degrees: 1,
  nm: 1,
  s: 1,
  sec: 1,
  min: 60,
  h: 3600,
};

const TOKEN = /\s*(?:(\d+(?:\.\d*)?(?:e[+-]?\d+)?|\.\d+(?:e[+-]?\d+)?)|([-+*/()^]))/iy;
const UNIT = /\s*(%|°|[a-z]+)/iy;

/** Reads a sum as people write one; nothing where it is none. */
class Sum {
  private at = 0;

  constructor(private readonly text: string) {}

  /** The value of all of the text. */
  value(): number | undefined {
    const found = this.sum();
    return found !== undefined && this.text.slice(this.at).trim() === '' && Number.isFinite(found) ? found : undefined;
  }

  private take(pattern: RegExp): RegExpExecArray | null {
    pattern.lastIndex = this.at;
    const found = pattern.exec(this.text);
    if (found) this.at = pattern.lastIndex;
    return found;
  }

  /** Takes one of these signs, where it comes next. */
  private sign(signs: string): string | undefined {
    const before = this.at;
    const sign = this.take(TOKEN)?.[2];
    if (sign && signs.includes(sign)) return sign;
    this.at = before;
    return undefined;
  }

  private sum(): number | undefined {
    let left = this.product();
    for (let sign = this.sign('+-'); sign && left !== undefined; sign = this.sign('+-')) {
      const right = this.product();
      left = right === undefined ? undefined : sign === '+' ? left + right : left - right;
    }
    return left;
  }

  private product(): number | undefined {
    let left = this.signed();
    for (let sign = this.sign('*/'); sign && left !== undefined; sign = this.sign('*/')) {
      const right = this.signed();
      left = right === undefined ? undefined : sign === '*' ? left * right : left / right;
    }
    return left;
  }

  /** A sign binds less than a power, as in formulas. */
  private signed(): number | undefined {
    const sign = this.sign('+-');
    if (!sign) return this.power();
    const found = this.signed();
    return found === undefined ? undefined : sign === '-' ? -found : found;
  }

  private power(): number | undefined {
    const base = this.single();
    if (base === undefined || !this.sign('^')) return base;
    const exponent = this.signed();
    return exponent === undefined ? undefined : base ** exponent;
  }

  private single(): number | undefined {
    if (this.sign('(')) {
      const inner = this.sum();
      return this.sign(')') ? inner : undefined;
    }
    const number = this.take(TOKEN)?.[1];
    if (number === undefined) return undefined;
    const unit = this.take(UNIT)?.[1].toLowerCase();
    if (unit === undefined) return Number(number);
    return Object.hasOwn(UNITS, unit) ? Number(number) * UNITS[unit] : undefined;
  }
}

/**
 * The number that a person has typed: plain, with a unit, or as a sum to be worked out, as in `3/4`, `2 * 1.5`, `45 %` or `5 h 20 min`.
 * A comma may stand for the point.
 * @returns undefined where it is none
 */
export function numberFrom(text: string): number | undefined {
  const plain = text.replace(/,/g, '.').replace(/−/g, '-').replace(/×/g, '*').replace(/÷/g, '/');
  // Times written one after the other belong together.
  const joined = plain.replace(/(\d\s*h)\s*(?=\d)/gi, '$1+').replace(/(\d\s*min)\s*(?=\d)/gi, '$1+');
  return new Sum(joined).value();
}
