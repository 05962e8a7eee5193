import type { NewStepContext } from './steps/step-spec';
import type { Step } from './schema';
import { STEP_SPECS } from './steps/index';

/** A step newly made. */
export const newStep = (kind: string, where: NewStepContext): Step => ({
  do: kind,
  ...STEP_SPECS.get(kind)?.initialParams?.(where),
});

type Pinned = number | number[];

const isNumber = (value: unknown): value is number => typeof value === 'number' && Number.isFinite(value);

/** Numbers of a measurement, however it lists them; of a single plane the number alone. */
function numbersIn(measured: unknown, key: string): Pinned | undefined {
  const one = (of: unknown): unknown[] => [(of as Record<string, unknown> | null)?.[key]].flat(2);
  const numbers = (Array.isArray(measured) ? measured : [measured]).flatMap(one);
  if (!numbers.every(isNumber)) return undefined;
  return numbers.length === 1 ? numbers[0] : numbers;
}

/**
 * What `hold` of a step would say, so that its measurements stay as they were measured whatever changes before it.
 * @param measured what the report says of the step
 * @returns nothing where the kind has nothing to pin, or it is not known yet
 */
export function pinnedValuesFrom(kind: string, measured: unknown): Record<string, Pinned> | undefined {
  const holds = STEP_SPECS.get(kind)?.pinnable;
  if (!holds || !measured || typeof measured !== 'object') return undefined;
  const entries = holds.map((key) => [key, numbersIn(measured, key)] as const);
  return entries.every((entry): entry is [string, Pinned] => entry[1] !== undefined)
    ? Object.fromEntries(entries)
    : undefined;
}
