/** A name like the wanted one that none of the others has. */
export function uniqueId(wanted: string, taken: readonly (string | undefined)[]): string {
  if (!taken.includes(wanted)) return wanted;
  for (let n = 2; ; n++) if (!taken.includes(`${wanted}-${n}`)) return `${wanted}-${n}`;
}
