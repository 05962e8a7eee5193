/** One header card. A card that carries on over CONTINUE cards is one card with several images. */
export interface Card {
  /** Keyword in upper case; a HIERARCH keyword without the word HIERARCH. */
  readonly key: string;
  /** The value; `undefined` on commentary cards and where the value is left open. */
  readonly value?: string | number | boolean;
  readonly comment?: string;
  /** The 80-character card images as they stand in the file. */
  readonly images: readonly string[];
}

const COMMENTARY = new Set(['COMMENT', 'HISTORY', '']);

/** The value and comment that follow `= ` on a card. FITS 4.0 §4.2. */
function parseValue(text: string): { value?: string | number | boolean; comment?: string } {
  const body = text.trimStart();
  if (body.startsWith("'")) {
    const match = /^'((?:[^']|'')*)'\s*(?:\/(.*))?$/s.exec(body.trimEnd());
    if (!match) return { value: body.slice(1).trimEnd() };
    return { value: match[1].replaceAll("''", "'").trimEnd(), comment: match[2]?.trim() };
  }
  const slash = body.indexOf('/');
  const raw = (slash < 0 ? body : body.slice(0, slash)).trim();
  const comment = slash < 0 ? undefined : body.slice(slash + 1).trim();
  if (raw === '') return { comment };
  if (raw === 'T' || raw === 'F') return { value: raw === 'T', comment };
  const number = Number(raw.replace(/[dD](?=[+-]?\d)/, 'e'));
  return { value: Number.isNaN(number) ? raw : number, comment };
}

function parseOne(image: string): Card {
  const key = image.slice(0, 8).trim().toUpperCase();
  if (COMMENTARY.has(key)) return { key, comment: image.slice(8).trimEnd(), images: [image] };
  if (key === 'HIERARCH') {
    const equals = image.indexOf('=');
    if (equals > 8) {
      return {
        key: image.slice(9, equals).trim().toUpperCase(),
        ...parseValue(image.slice(equals + 1)),
        images: [image],
      };
    }
  }
  if (image.slice(8, 10) === '= ') return { key, ...parseValue(image.slice(10)), images: [image] };
  return { key, comment: image.slice(8).trimEnd(), images: [image] };
}

/**
 * Header text to cards, CONTINUE cards joined to the string that they carry on (FITS 4.0 §4.2.1.2).
 * @param text whole 80-character card images, without END
 */
export function parseCards(text: string): Card[] {
  const cards: Card[] = [];
  for (let at = 0; at + 80 <= text.length; at += 80) {
    const image = text.slice(at, at + 80);
    const last = cards[cards.length - 1];
    if (image.startsWith('CONTINUE') && typeof last?.value === 'string' && last.value.endsWith('&')) {
      const more = parseValue(image.slice(8));
      cards[cards.length - 1] = {
        ...last,
        value: last.value.slice(0, -1) + (typeof more.value === 'string' ? more.value : ''),
        comment: more.comment ?? last.comment,
        images: [...last.images, image],
      };
    } else {
      cards.push(parseOne(image));
    }
  }
  return cards;
}

/** The number on the last card of that keyword. */
export function numberOf(cards: readonly Card[], key: string): number | undefined {
  const value = cards.findLast((card) => card.key === key)?.value;
  return typeof value === 'number' ? value : undefined;
}

/** The text on the last card of that keyword. */
export function textOf(cards: readonly Card[], key: string): string | undefined {
  const value = cards.findLast((card) => card.key === key)?.value;
  return typeof value === 'string' ? value : undefined;
}

const pad = (text: string) => text.padEnd(80).slice(0, 80);

function formatValue(value: string | number | boolean): string {
  if (typeof value === 'boolean') return (value ? 'T' : 'F').padStart(20);
  if (typeof value === 'number') {
    const text = Number.isInteger(value) && Math.abs(value) < 1e15 ? String(value) : String(value).toUpperCase();
    return text.padStart(20);
  }
  return `'${value.replaceAll("'", "''").padEnd(8)}'`;
}

/**
 * Card images of a keyword with its value: one, or more with CONTINUE where a text is long.
 * @param key up to eight characters of A–Z, 0–9, - and _
 */
export function formatCard(key: string, value: string | number | boolean, comment = ''): string[] {
  const tail = comment ? ` / ${comment}` : '';
  // Before a comment a value fills twenty columns, as those lay it out that make cards anew: a checksum taken of theirs is then ours.
  const one = `${key.padEnd(8)}= ${comment ? formatValue(value).padEnd(20) : formatValue(value)}`;
  if (one.length <= 80) return [pad(one + tail)];
  const images: string[] = [];
  let rest = String(value);
  while (rest.length > 0 || images.length === 0) {
    let take = Math.min(66, rest.length);
    while (rest.slice(0, take).replaceAll("'", "''").length > 66) take--;
    const more = take < rest.length ? '&' : '';
    const quoted = `'${rest.slice(0, take).replaceAll("'", "''")}${more}'`;
    images.push(pad(images.length === 0 ? `${key.padEnd(8)}= ${quoted}` : `CONTINUE  ${quoted}`));
    rest = rest.slice(take);
  }
  return images;
}

/** Text in printable ASCII, as FITS demands: letters without their marks, a question mark for what has no like there. */
export const toAscii = (text: string): string =>
  text.normalize('NFKD').replace(/[^\x20-\x7e]/gu, (c) => (/\p{M}/u.test(c) ? '' : /\s/.test(c) ? ' ' : '?'));

/** Card images of a commentary keyword, the text folded at 72 characters. */
export function formatCommentary(key: 'HISTORY' | 'COMMENT', text: string): string[] {
  const lines = toAscii(text).match(/.{1,72}/g) ?? [''];
  return lines.map((line) => pad(key.padEnd(8) + line));
}
