import { useReport } from './session';

export const numberOf = (value: unknown): number | undefined => (typeof value === 'number' ? value : undefined);
export const firstOf = (value: unknown, fallback: number): number =>
  typeof value === 'number' ? value : Array.isArray(value) && typeof value[0] === 'number' ? value[0] : fallback;

export function useMeasured(path: string): unknown {
  return useReport()?.measured[path];
}
