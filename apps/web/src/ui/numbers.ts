import { formatDuration } from '@owl-loom/base/format-duration';

/** A number for reading: enough digits to tell, no more. A true minus sign, thin spaces between thousands. */
export function figure(value: number | null | undefined, digits = 4): string {
  if (value === null || value === undefined || Number.isNaN(value)) return '–';
  const size = Math.abs(value);
  if (size !== 0 && (size < 1e-4 || size >= 1e7)) return value.toExponential(2).replace('-', '−').replace('e+', 'e');
  return value
    .toFixed(size >= 100 ? Math.max(0, digits - 3) : size >= 10 ? Math.max(0, digits - 2) : digits)
    .replace('-', '−');
}

/** A count with thin spaces between thousands. */
export const count = (value: number): string =>
  Math.round(value)
    .toString()
    .replace(/\B(?=(\d{3})+(?!\d))/g, '\u2009');

/** An exposure as hours and minutes; a dash where none is known. */
export const exposed = (seconds: number | null | undefined): string => (seconds ? formatDuration(seconds) : '–');

export const bytes = (value: number): string =>
  value < 1e6
    ? `${Math.round(value / 1e3)} kB`
    : value < 1e9
      ? `${(value / 1e6).toFixed(1)} MB`
      : `${(value / 1e9).toFixed(2)} GB`;
