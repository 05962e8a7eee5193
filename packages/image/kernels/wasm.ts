import { hexToBytes } from '@noble/hashes/utils.js';
import { SIMD_HEX } from './simd-bytes';

/** What `packages/image/kernels/simd` exports; addresses are bytes in its memory. */
interface Exports {
  readonly memory: WebAssembly.Memory;
  floor(): number;
  rows(from: number, width: number, taps: number, count: number, step: number, scale: number, out: number): void;
  columns(pointers: number, weights: number, count: number, width: number, scale: number, out: number): void;
  part(row: number, there: number, width: number): void;
  ratio(sums: number, weights: number, width: number): void;
  holed(row: number, width: number): number;
  difference(values: number, less: number, where: number, width: number): void;
  gather(row: number, width: number, sums: number, counts: number): void;
  means(sums: number, counts: number, width: number, n: number, lead: number, out: number): void;
  spread(row: number, width: number, lead: number, n: number, weights: number, out: number, cells: number): void;
  cubicRow(row: number, weights: number, n: number, gaps: number, out: number): void;
  resample(
    from: number,
    width: number,
    height: number,
    table: number,
    own: number,
    xx: number,
    xy: number,
    tx: number,
    yx: number,
    yy: number,
    ty: number,
    out: number,
    outWidth: number,
    outHeight: number,
  ): void;
  affine(from: number, n: number, a: number, b: number, out: number): void;
  stretch(
    curve: number,
    from: number,
    n: number,
    black: number,
    over: number,
    strength: number,
    table: number,
    out: number,
  ): void;
  workColours(pointers: number, n: number, works: number, count: number): void;
  labColours(pointers: number, n: number, isCoded: boolean): void;
  hueShares(a: number, b: number, n: number, family: number, out: number): void;
  stretchHue(curve: number, pointers: number, n: number, ends: number, strength: number, table: number): void;
  weigh(pointers: number, factors: number, count: number, n: number, add: number, out: number): number;
  fromFloats(from: number, n: number, divisor: number, out: number): void;
  fromShorts(
    from: number,
    n: number,
    zero: number,
    blank: number,
    hasBlank: number,
    divisor: number,
    out: number,
  ): void;
  fromBytes(from: number, n: number, zero: number, blank: number, hasBlank: number, divisor: number, out: number): void;
  toFloats(from: number, n: number, out: number): bigint;
  halve(lower: number, upper: number, n: number, out: number): void;
  between(coarse: number, count: number, out: number): void;
  peaks(below: number, row: number, above: number, ground: number, n: number, threshold: number, out: number): number;
  atLeast(from: number, n: number, min: number): number;
  greatest(from: number, n: number): number;
  present(from: number, n: number): number;
  bins(from: number, n: number, centre: number, base: number, bins: number, ends: number): number;
  equal(
    from: number,
    n: number,
    low: number,
    high: number,
    per: number,
    bins: number,
    keeps: boolean,
    counts: number,
  ): void;
  offSurface(
    from: number,
    n: number,
    u0: number,
    du: number,
    lattice: number,
    kept: number,
    divides: boolean,
    out: number,
  ): void;
  shapes(band: number, width: number, height: number, peaks: number, count: number, scratch: number, out: number): void;
  light(
    band: number,
    width: number,
    height: number,
    places: number,
    count: number,
    radius: number,
    inner: number,
    outer: number,
    kappa: number,
    scratch: number,
    out: number,
  ): void;
  collect(from: number, n: number, brackets: number, count: number, out: number): number;
  moments(from: number, n: number, centre: number, top: number, sums: number): void;
  pairs(first: number, second: number, n: number, ranges: number): number;
  near(first: number, second: number, n: number, line: number, sums: number): void;
  weighPresent(
    pointers: number,
    numbers: number,
    count: number,
    n: number,
    share: number,
    out: number,
    marks: number,
  ): number;
  formula(
    op: number,
    x: number,
    xs: number,
    y: number,
    ys: number,
    z: number,
    zs: number,
    n: number,
    out: number,
  ): number;
  rgba(r: number, g: number, b: number, n: number, out: number): void;
  widen(from: number, n: number, out: number): void;
  narrow(from: number, n: number, out: number): void;
  lay(mode: number, below: number, top: number, mask: number, n: number, opacity: number, out: number): void;
  layColours(
    mode: number,
    ...of: readonly [
      ...below: [number, number, number],
      ...top: [number, number, number],
      mask: number,
      n: number,
      opacity: number,
      ...out: [number, number, number],
    ]
  ): void;
  mix(before: number, after: number, mask: number, n: number, opacity: number, out: number): void;
}

const PAGE = 65_536;
/** What a kernel may read or write beyond the end of a row, in bytes. */
const SLACK = 64;
/** Bytes that are set apart for strips on their way, for strips that are brought for one kernel, and for the numbers it is given. */
const STRIPS = 4 * 2 ** 20;
export const STAGING_BYTES = 2 ** 20;
const NUMBERS = 2 ** 12;
/** Bytes of tables that stay from one task to the next. */
const KEPT = 4 * 2 ** 20;
/** Bytes of the rest to begin with: what pointwise kernels lay out must never make the memory move under strips on their way. */
const FIRST = 16 * 2 ** 20;

/**
 * The kernels in WebAssembly with their memory. One part of it holds strips on their way through pointwise kernels, the rest is laid out
 * anew for every task.
 */
export class WasmKernels {
  readonly run: Exports;
  private end = 0;
  private stripEnd = 0;
  private readonly tables = new Map<string, number>();
  private tablesEnd = 0;

  constructor(exports: Exports) {
    this.run = exports;
    this.beginStrips();
    this.resetArena();
    this.alloc(FIRST / 4);
  }

  /** Lets go of everything that was laid out before, strips apart. */
  resetArena(): void {
    this.end = this.kept + KEPT;
  }

  /** Where tables that stay begin. */
  private get kept(): number {
    return this.stagingAddress + STAGING_BYTES + 2 * NUMBERS;
  }

  /** Address of a table that stays where it is; where the room for such is full, all that were there before are let go. */
  cachedTable(name: string, make: () => Float32Array): number {
    const known = this.tables.get(name);
    if (known !== undefined) return known;
    const made = make();
    if (this.tablesEnd + made.byteLength > KEPT) {
      this.tables.clear();
      this.tablesEnd = 0;
    }
    const at = this.kept + this.tablesEnd;
    this.floats(at, made.length).set(made);
    this.tables.set(name, at);
    this.tablesEnd += Math.ceil(made.byteLength / 16) * 16;
    return at;
  }

  /** Address of strips that are brought for one kernel: a megabyte that stays where it is. */
  get stagingAddress(): number {
    return Math.ceil((this.run.floor() + STRIPS) / 16) * 16;
  }

  /** Lays out addresses for one kernel. */
  pointers(addresses: readonly number[]): number {
    const at = this.stagingAddress + STAGING_BYTES;
    new Uint32Array(this.run.memory.buffer, at, addresses.length).set(addresses);
    return at;
  }

  /** Lays out the numbers that one kernel is given, up to a thousand. */
  numbers(values: readonly number[]): number {
    const at = this.stagingAddress + STAGING_BYTES + NUMBERS;
    this.floats(at, values.length).set(values);
    return at;
  }

  /**
   * Lays out room for `length` 4-byte numbers, with slack on either side; what stands there before is not cleared.
   * @returns its address, a multiple of 16
   */
  alloc(length: number): number {
    const at = Math.ceil((this.end + SLACK) / 16) * 16;
    this.end = at + 4 * length + SLACK;
    const missing = this.end - this.run.memory.buffer.byteLength;
    if (missing > 0) this.run.memory.grow(Math.ceil(missing / PAGE));
    return at;
  }

  /** The numbers at an address. Taken anew after every {@link alloc}, which may move the memory. */
  floats(at: number, length: number): Float32Array {
    return new Float32Array(this.run.memory.buffer, at, length);
  }

  /** The doubles at an address, a multiple of 8; taken anew as {@link floats} are. */
  doubles(at: number, length: number): Float64Array {
    return new Float64Array(this.run.memory.buffer, at, length);
  }

  /** Lays out numbers. */
  allocFrom(values: ArrayLike<number>): number {
    const at = this.alloc(values.length);
    this.floats(at, values.length).set(values);
    return at;
  }

  /** Lays out doubles. */
  putDoubles(values: ArrayLike<number>): number {
    const at = this.alloc(2 * values.length);
    this.doubles(at, values.length).set(values);
    return at;
  }

  /** Lets go of all strips. */
  beginStrips(): void {
    this.stripEnd = this.run.floor();
  }

  /** Numbers in the part for strips; undefined where that is full. */
  allocStrip(length: number): Float32Array | undefined {
    const at = Math.ceil((this.stripEnd + SLACK) / 16) * 16;
    const end = at + 4 * length + SLACK;
    if (end > this.run.floor() + STRIPS - SLACK) return undefined;
    this.stripEnd = end;
    return this.floats(at, length);
  }
}

let found: WasmKernels | null | undefined;

/** The kernels in WebAssembly; undefined on a machine without SIMD, where the plain ones serve. */
export function wasmKernels(): WasmKernels | undefined {
  if (found === undefined) {
    const bytes = Uint8Array.from(hexToBytes(SIMD_HEX.replaceAll(/\s/g, '')));
    found = WebAssembly.validate(bytes) ? new WasmKernels(instance(bytes)) : null;
  }
  return found ?? undefined;
}

function instance(bytes: Uint8Array<ArrayBuffer>): Exports {
  const { exports }: { exports: unknown } = new WebAssembly.Instance(new WebAssembly.Module(bytes));
  return exports as Exports;
}
