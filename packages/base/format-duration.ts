/**
 * Seconds as hours and minutes, in words.
 * @param minutes what is said after the minutes of more than an hour
 */
export function formatDuration(seconds: number, minutes = ''): string {
  const all = Math.round(seconds / 60);
  if (all < 1) return `${Math.round(seconds)} s`;
  return all < 60 ? `${all} min` : `${Math.floor(all / 60)} h ${String(all % 60).padStart(2, '0')}${minutes}`;
}
