import { z } from 'zod';
import { STEP_SPECS } from '@owl-loom/recipe/steps/index';
import { clamp } from '@owl-loom/base/clamp';

/** Least and greatest number that a parameter may have. */
export interface Limits {
  readonly min: number;
  readonly max: number;
}

const FREE: Limits = { min: Number.NEGATIVE_INFINITY, max: Number.POSITIVE_INFINITY };
/** How far inside an end lies that is itself left out. */
const INSIDE = 1e-6;

const known = new Map<string, Limits>();

interface Range {
  readonly minimum?: number;
  readonly maximum?: number;
  readonly exclusiveMinimum?: number;
  readonly exclusiveMaximum?: number;
}

/** The limits of a step's parameter, as the recipe's schema has them. */
export function limitsOf(kind: string, key: string): Limits {
  const name = `${kind} ${key}`;
  const before = known.get(name);
  if (before) return before;
  const shape: z.ZodType | undefined = STEP_SPECS.get(kind)?.params.shape[key];
  const range: Range = shape ? (z.toJSONSchema(shape, { io: 'input', unrepresentable: 'any' }) as Range) : {};
  const found: Limits = {
    min: Math.max(
      range.minimum ?? FREE.min,
      range.exclusiveMinimum === undefined ? FREE.min : range.exclusiveMinimum + INSIDE,
    ),
    max: Math.min(
      range.maximum ?? FREE.max,
      range.exclusiveMaximum === undefined ? FREE.max : range.exclusiveMaximum - INSIDE,
    ),
  };
  known.set(name, found);
  return found;
}

/** A number brought within the limits of the parameter that it is for; anything else stays as it is. */
export function clampToLimits(kind: string, key: string, value: unknown): unknown {
  if (typeof value !== 'number') return value;
  const { min, max } = limitsOf(kind, key);
  return clamp(value, min, max);
}
