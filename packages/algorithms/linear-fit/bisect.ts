/** The middle of an interval, ever halved, at which a rising condition begins to hold. */
export function bisect(low: number, high: number, holds: (at: number) => boolean, rounds = 24): number {
  let [from, to] = [low, high];
  for (let i = 0; i < rounds; i++) {
    const middle = (from + to) / 2;
    if (holds(middle)) to = middle;
    else from = middle;
  }
  return (from + to) / 2;
}
