import { STAGING_BYTES, type WasmKernels } from '@owl-loom/image/kernels/wasm';
import type { DomainErrors } from './functions';

/** One plane of a value while a strip is computed: numbers for every pixel, or one for all (stride 0). */
export interface Lane {
  readonly data: Float64Array;
  readonly stride: 0 | 1;
  /** Where it stands in the kernels' memory, if it does. */
  readonly at?: number;
}

/** Pixels that a formula works on at a time: all its lanes stay in the processor's cache. */
export const PIXELS = 1024;
/** Bytes of a lane, with room for the odd one out. */
const LANE = PIXELS * 8 + 16;
/** Bytes of one number written twice, as the kernels read what stands for all pixels. */
const PAIR = 16;
/** Bytes set apart for such numbers, behind the lanes. */
const PAIRS = 16_384;

/** What a strip is computed with: lanes that come again for the next strip, in the kernels' memory where there is room. */
export class Strip {
  private readonly pool: Lane[] = [];
  private next = 0;
  private pairs = 0;
  readonly faults: DomainErrors = { count: 0 };
  n = 0;
  inputs: readonly (readonly Float32Array[])[] = [];
  /** The first of the strip's pixels among those of the inputs. */
  private from = 0;

  constructor(
    readonly numbers: readonly (readonly number[])[],
    readonly wasm: WasmKernels | undefined,
  ) {}

  begin(from: number, n: number, inputs: readonly (readonly Float32Array[])[]): void {
    this.next = 0;
    this.pairs = 0;
    this.from = from;
    this.n = n;
    this.inputs = inputs;
  }

  /** A lane of the strip, to be filled. */
  take(): Lane {
    const index = this.next++;
    const known = this.pool[index];
    const { wasm } = this;
    // Memory that has grown has left the old lanes behind.
    if (known && (known.at === undefined || known.data.buffer === wasm?.run.memory.buffer)) return known;
    const at = wasm && (index + 1) * LANE <= STAGING_BYTES - PAIRS ? wasm.stagingAddress + index * LANE : undefined;
    const data = at === undefined ? new Float64Array(PIXELS) : (wasm as WasmKernels).doubles(at, PIXELS);
    const made: Lane = { data, stride: 1, at };
    this.pool[index] = made;
    return made;
  }

  /** Address and step of a lane for the kernels; undefined where it stands outside their memory. */
  address({ data, stride, at }: Lane): readonly [at: number, step: number] | undefined {
    const { wasm } = this;
    if (!wasm) return undefined;
    if (stride === 1) return at === undefined ? undefined : [at, PAIR];
    if ((this.pairs + 1) * PAIR > PAIRS) return undefined;
    const place = wasm.stagingAddress + STAGING_BYTES - PAIRS + this.pairs++ * PAIR;
    wasm.doubles(place, 2).fill(data[0]);
    return [place, 0];
  }

  /** The strip's pixels of a plane. */
  read(input: number, plane: number): Lane {
    const lane = this.take();
    const { wasm, from, n } = this;
    const pixels = this.inputs[input][plane];
    if (wasm && lane.at !== undefined && pixels.buffer === wasm.run.memory.buffer)
      wasm.run.widen(pixels.byteOffset + 4 * from, n, lane.at);
    else lane.data.set(pixels.subarray(from, from + n));
    return lane;
  }

  /** Puts a lane where the strip's pixels of a result belong. */
  write({ data, stride, at }: Lane, target: Float32Array): void {
    const { wasm, from, n } = this;
    if (stride === 0) target.fill(data[0], from, from + n);
    else if (wasm && at !== undefined && target.buffer === wasm.run.memory.buffer)
      wasm.run.narrow(at, n, target.byteOffset + 4 * from);
    else target.set(data.subarray(0, n), from);
  }
}
