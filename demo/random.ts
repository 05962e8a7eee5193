/** Repeatable random numbers: the same seed gives the same sky on every machine. */
export class Random {
  private state: number;
  private spare: number | undefined;

  constructor(seed: number) {
    this.state = seed >>> 0;
  }

  /** Uniform from 0 (counted in) to 1 (left out). Mulberry32. */
  next(): number {
    this.state = (this.state + 0x6d2b79f5) >>> 0;
    let t = this.state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  }

  /** Normal of mean 0 and σ 1, by Box and Muller. */
  normal(): number {
    if (this.spare !== undefined) {
      const value = this.spare;
      this.spare = undefined;
      return value;
    }
    const radius = Math.sqrt(-2 * Math.log(1 - this.next()));
    const angle = 2 * Math.PI * this.next();
    this.spare = radius * Math.sin(angle);
    return radius * Math.cos(angle);
  }
}
