import type { z } from 'zod';
import { UserError } from '../errors';
import { FORMAT, type Recipe, VERSION, recipeSchema } from './schema';

type Issue = z.core.$ZodIssue;

/** A path as people read it: `strands[2].steps[0].degree`. */
export function pathText(path: readonly PropertyKey[]): string {
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
function quote(value: unknown): string {
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

function sentence(issue: Issue, path: readonly PropertyKey[], data: unknown): string {
  const value = at(data, path);
  switch (issue.code) {
    case 'unrecognized_keys':
      return `${quote(issue.keys[0])} is not a key that can stand here; remove it or mend its spelling.`;
    case 'invalid_union':
      return path[path.length - 1] === 'do'
        ? `${quote(value)} is not a step that Owl Loom knows; mend its spelling.`
        : 'this is none of the forms that can stand here.';
    case 'invalid_type':
      return value === undefined
        ? `this is missing; it must be ${article(issue.expected)}.`
        : `this must be ${article(issue.expected)}, not ${quote(value)}.`;
    case 'invalid_value':
      return `this must be ${issue.values.map(quote).join(' or ')}, not ${quote(value)}.`;
    case 'too_small':
      return `this must be ${issue.inclusive === false ? 'above' : 'at least'} ${issue.minimum}${issue.origin === 'number' ? '' : ` ${issue.origin === 'string' ? 'characters' : 'entries'} long`}.`;
    case 'too_big':
      return `this must be ${issue.inclusive === false ? 'below' : 'at most'} ${issue.maximum}${issue.origin === 'number' ? '' : ` ${issue.origin === 'string' ? 'characters' : 'entries'} long`}.`;
    default:
      return `${issue.message}.`;
  }
}

const article = (expected: string) => (/^[aeiou]/.test(expected) ? `an ${expected}` : `a ${expected}`);

/**
 * The first fault of a check as a sentence with its path.
 * @param data what was checked
 * @param within path of what was checked, where that is a part of a recipe
 */
export function faultIn(error: z.ZodError, data: unknown, within = ''): UserError {
  const { issue, path } = deepest(error.issues[0]);
  const full = pathText(issue.code === 'unrecognized_keys' ? [...path, issue.keys[0]] : path);
  const place = within && full && !full.startsWith('[') ? `${within}.${full}` : `${within}${full}`;
  return new UserError('recipe-invalid', sentence(issue, path, data), place || undefined);
}

/**
 * Checks a recipe's form. What it names (strands, stacks, loops) is checked when its graph is built.
 * @param data parsed JSON
 * @throws UserError with the path of the first fault
 */
export function parseRecipe(data: unknown): Recipe {
  if (typeof data === 'object' && data !== null) {
    const { format, version } = data as { format?: unknown; version?: unknown };
    if (format !== FORMAT)
      throw new UserError('recipe-format', `this is not an Owl Loom recipe; its format must be "${FORMAT}".`, 'format');
    if (version !== VERSION) {
      throw new UserError(
        'recipe-version',
        `version ${quote(version)} is unknown to this Owl Loom, which reads version ${VERSION}; update the program or save the recipe in that version.`,
        'version',
      );
    }
  }
  const result = recipeSchema.safeParse(data);
  if (result.success) return data as Recipe;
  throw faultIn(result.error, data);
}

/** Reads a recipe from JSON text. */
export function parseRecipeText(text: string, name: string): Recipe {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch (fault) {
    throw new UserError(
      'recipe-json',
      `${name} is not valid JSON (${fault instanceof Error ? fault.message : fault}); mend it and try again.`,
    );
  }
  return parseRecipe(data);
}
