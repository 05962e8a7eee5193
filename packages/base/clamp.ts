/** A number limited to `min` … `max`; `max` where they contradict each other, NaN for NaN. */
export const clamp = (value: number, min: number, max: number): number => Math.min(max, Math.max(min, value));
