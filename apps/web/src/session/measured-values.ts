import { useReport } from './session';
import type { z } from 'zod';
import type { StepSpec } from '@owl-loom/recipe/steps/step-spec';
import type { Measurement } from '@owl-loom/engine/measurements/index';

export const numberOf = (value: unknown): number | undefined => (typeof value === 'number' ? value : undefined);
export const firstOf = (value: unknown, fallback: number): number =>
  typeof value === 'number' ? value : Array.isArray(value) && typeof value[0] === 'number' ? value[0] : fallback;

/** What a step reports of what it measured; undefined until that is known. */
export function useStepReport<R>(path: string, { reports }: StepSpec<z.ZodObject, R>): R | undefined {
  return reports?.safeParse(useReport()?.measured[path]).data;
}

const isOfKind = <K extends Measurement['kind']>(
  measurement: Measurement | undefined,
  kind: K,
): measurement is Extract<Measurement, { kind: K }> => measurement?.kind === kind;

/** The measurement that charts and marks of a step show, where it is of this kind. */
export function useChart<K extends Measurement['kind']>(
  path: string,
  kind: K,
): Extract<Measurement, { kind: K }> | undefined {
  const found = useReport()?.charts[path];
  return isOfKind(found, kind) ? found : undefined;
}

/** What a step reports, of whatever form. */
export function useMeasured(path: string): unknown {
  return useReport()?.measured[path];
}
