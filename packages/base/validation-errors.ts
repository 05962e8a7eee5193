import type { z } from 'zod';

// What a checker of forms finds, in sentences for people.

type Issue = z.core.$ZodIssue;

/** A path as people read it: `strands[2].steps[0].degree`. */
function pathText(path: readonly PropertyKey[]): string {
  return path.reduce<string>(
    (text, key) => (typeof key === 'number' ? `${text}[${key}]` : text ? `${text}.${String(key)}` : String(key)),
    '',
  );
}

/** How far a branch of a union is from what was written: the fewer faults at its own level, the nearer. */
function distance(issues: readonly Issue[]): number {
  return issues.reduce((sum, issue) => {
    if (issue.code === 'unrecognized_keys' && issue.path.length === 0) return sum + 10 * issue.keys.length;
    if (issue.code === 'invalid_type' && issue.path.length === 0) return sum + 1000;
    if (issue.path.length === 1) return sum + 5;
    return sum + 1;
  }, 0);
}

function deepest(issue: Issue): { issue: Issue; path: PropertyKey[] } {
  if (issue.code === 'invalid_union' && issue.errors.length > 0) {
    const branch = issue.errors.reduce((best, next) => (distance(next) < distance(best) ? next : best));
    const inner = deepest(branch.find((i) => i.code === 'unrecognized_keys') ?? branch[0]);
    return { issue: inner.issue, path: [...issue.path, ...inner.path] };
  }
  return { issue, path: [...issue.path] };
}

/** A value as it would stand in the file, cut where it is long. */
export function quote(value: unknown): string {
  const text = JSON.stringify(value) ?? String(value);
  return text.length > 60 ? `${text.slice(0, 57)}…` : text;
}

function at(data: unknown, path: readonly PropertyKey[]): unknown {
  return path.reduce<unknown>(
    (value, key) =>
      typeof value === 'object' && value !== null ? (value as Record<PropertyKey, unknown>)[key] : undefined,
    data,
  );
}

/** How the checker's own words begin; what does not begin so was written for people. */
const OWN = /^(Invalid|Too (small|big)|Unrecognized)/;

function sentence(issue: Issue, path: readonly PropertyKey[], data: unknown): string {
  const value = at(data, path);
  if ((issue.code === 'too_small' || issue.code === 'too_big') && !OWN.test(issue.message)) return `${issue.message}.`;
  switch (issue.code) {
    case 'unrecognized_keys':
      return `Unknown key ${quote(issue.keys[0])}. Check the spelling or remove it.`;
    case 'invalid_union':
      return path[path.length - 1] === 'do'
        ? `${quote(value)} is not a step that Owl Loom knows. Check the spelling.`
        : 'No valid form matches here.';
    case 'invalid_type':
      return value === undefined
        ? `Missing; must be ${article(issue.expected)}.`
        : `Must be ${article(issue.expected)}, not ${quote(value)}.`;
    case 'invalid_value':
      return `Must be ${issue.values.map(quote).join(' or ')}, not ${quote(value)}.`;
    case 'too_small':
      return `Must be ${issue.inclusive === false ? 'above' : 'at least'} ${issue.minimum}${issue.origin === 'number' ? '' : ` ${issue.origin === 'string' ? 'characters' : 'entries'} long`}.`;
    case 'too_big':
      return `Must be ${issue.inclusive === false ? 'below' : 'at most'} ${issue.maximum}${issue.origin === 'number' ? '' : ` ${issue.origin === 'string' ? 'characters' : 'entries'} long`}.`;
    case 'invalid_format':
      return OWN.test(issue.message) ? `${quote(value)} has the wrong format.` : `${issue.message}.`;
    default:
      return OWN.test(issue.message) ? 'Not allowed here.' : `${issue.message}.`;
  }
}

const article = (expected: string) => (/^[aeiou]/.test(expected) ? `an ${expected}` : `a ${expected}`);

/**
 * The first fault of a check, as a sentence and where it lies.
 * @param data what was checked
 */
export function firstIssue(error: z.ZodError, data: unknown): { readonly says: string; readonly path: string } {
  const { issue, path } = deepest(error.issues[0]);
  return {
    says: sentence(issue, path, data),
    path: pathText(issue.code === 'unrecognized_keys' ? [...path, issue.keys[0]] : path),
  };
}

/**
 * Whether data are nested deeper than so many lists and objects; looked for without climbing into them, since what is nested by the thousand
 * would end the climber.
 */
export function exceedsDepth(data: unknown, max: number): boolean {
  let level: unknown[] = [data];
  for (let depth = 0; level.length > 0; depth++) {
    if (depth > max) return true;
    level = level.flatMap((value) => (typeof value === 'object' && value !== null ? Object.values(value) : []));
  }
  return false;
}
