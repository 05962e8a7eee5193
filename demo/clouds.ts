import { Random } from './random';

/** Smooth random fields from which gas and dust are shaped: gradient noise, its octaves, and its ridges. */
export class Clouds {
  private readonly table = new Uint8Array(512);

  constructor(seed: number) {
    const random = new Random(seed);
    const order = Array.from({ length: 256 }, (_, i) => i);
    for (let i = 255; i > 0; i--) {
      const j = Math.floor(random.next() * (i + 1));
      [order[i], order[j]] = [order[j], order[i]];
    }
    for (let i = 0; i < 512; i++) this.table[i] = order[i & 255];
  }

  /** Gradient noise (Perlin 2002), about −0.7 to 0.7, one lump a unit. */
  noise(x: number, y: number): number {
    const xi = Math.floor(x);
    const yi = Math.floor(y);
    const fx = x - xi;
    const fy = y - yi;
    const u = fx * fx * fx * (fx * (fx * 6 - 15) + 10);
    const v = fy * fy * fy * (fy * (fy * 6 - 15) + 10);
    const t = this.table;
    const a = t[xi & 255] + (yi & 255);
    const b = t[(xi + 1) & 255] + (yi & 255);
    const n00 = corner(t[a], fx, fy);
    const n10 = corner(t[b], fx - 1, fy);
    const n01 = corner(t[a + 1], fx, fy - 1);
    const n11 = corner(t[b + 1], fx - 1, fy - 1);
    const low = n00 + (n10 - n00) * u;
    const high = n01 + (n11 - n01) * u;
    return low + (high - low) * v;
  }

  /** Octaves of noise, each half as large and twice as fine. */
  billow(x: number, y: number, octaves: number): number {
    let sum = 0;
    let size = 1;
    let scale = 1;
    for (let i = 0; i < octaves; i++) {
      sum += size * this.noise(x * scale + 17.3 * i, y * scale - 9.1 * i);
      size *= 0.5;
      scale *= 2.03;
    }
    return sum;
  }

  /** Thin bright ridges with finer ones on them: filaments. 0 to about 1. */
  ridges(x: number, y: number, octaves: number): number {
    let sum = 0;
    let size = 0.5;
    let scale = 1;
    let carry = 1;
    for (let i = 0; i < octaves; i++) {
      const crest = 1 - Math.min(1, 1.9 * Math.abs(this.noise(x * scale - 31.7 * i, y * scale + 11.9 * i)));
      const sharp = crest * crest * crest;
      sum += size * sharp * carry;
      carry = Math.min(1, 0.25 + sharp);
      size *= 0.58;
      scale *= 2.1;
    }
    return sum;
  }
}

function corner(hash: number, x: number, y: number): number {
  const h = hash & 7;
  const u = h < 4 ? x : y;
  const v = h < 4 ? y : x;
  return ((h & 1 ? -u : u) + (h & 2 ? -v : v) * 0.5) * 0.95;
}

/** 0 below `low`, 1 above `high`, smooth between. */
export function ramp(low: number, high: number, x: number): number {
  const t = Math.min(1, Math.max(0, (x - low) / (high - low)));
  return t * t * (3 - 2 * t);
}
