/** Places in a plane, sorted into squares so that whether any lies near another need not be asked of each. */
export class SpatialIndex {
  private readonly squares = new Map<string, { readonly x: number; readonly y: number }[]>();

  /** @param reach pixels up to which a place is near */
  constructor(
    places: readonly { readonly x: number; readonly y: number }[],
    private readonly reach: number,
  ) {
    for (const place of places) {
      const key = this.keyOf(place.x, place.y, 0, 0);
      this.squares.set(key, [...(this.squares.get(key) ?? []), place]);
    }
  }

  private keyOf(x: number, y: number, across: number, up: number): string {
    return `${Math.floor(x / this.reach) + across} ${Math.floor(y / this.reach) + up}`;
  }

  /** Whether a place lies nearer than the reach. */
  near(x: number, y: number): boolean {
    for (let up = -1; up <= 1; up++)
      for (let across = -1; across <= 1; across++)
        for (const other of this.squares.get(this.keyOf(x, y, across, up)) ?? [])
          if (Math.hypot(other.x - x, other.y - y) < this.reach) return true;
    return false;
  }
}
