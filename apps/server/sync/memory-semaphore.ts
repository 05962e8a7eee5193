/** Something that waits for its share. */
interface Waiting {
  readonly bytes: number;
  readonly go: () => void;
}

/**
 * Memory that works share: each says what it will need, and begins when there is room for it, in the order in which they came. One that needs
 * more than there is in all goes alone.
 */
export class MemorySemaphore {
  private used = 0;
  private readonly waiting: Waiting[] = [];

  /** @param total bytes that all works together may need */
  constructor(readonly total: number) {}

  /** Bytes that works under way have said they need. */
  get inUse(): number {
    return this.used;
  }

  /**
   * Does a work when there is memory for it.
   * @param signal ends the waiting
   */
  async withBytes<T>(bytes: number, signal: AbortSignal, work: () => Promise<T>): Promise<T> {
    const share = Math.min(bytes, this.total);
    await this.turn(share, signal);
    try {
      return await work();
    } finally {
      this.used -= share;
      this.next();
    }
  }

  private turn(bytes: number, signal: AbortSignal): Promise<void> {
    signal.throwIfAborted();
    return new Promise((resolve, reject) => {
      const own: Waiting = {
        bytes,
        go: () => {
          signal.removeEventListener('abort', leave);
          resolve();
        },
      };
      const leave = (): void => {
        this.waiting.splice(this.waiting.indexOf(own), 1);
        reject(signal.reason);
        // Whoever came after may have room that this one had not.
        this.next();
      };
      signal.addEventListener('abort', leave, { once: true });
      this.waiting.push(own);
      this.next();
    });
  }

  private next(): void {
    for (let first = this.waiting[0]; first && this.used + first.bytes <= this.total; first = this.waiting[0]) {
      this.waiting.shift();
      this.used += first.bytes;
      first.go();
    }
  }
}

/** Bytes that a pixel of a compressed tile takes while it is unpacked: as it was stored, as a number, and in rows. */
const TILE_BYTES = 24;

/** An image's size, and that of the tiles in which it is compressed. */
interface Size {
  readonly width: number;
  readonly height: number;
  readonly planes: number;
  readonly tilePixels?: number;
}

/** Bytes that an image of whole planes takes while it is read, measured and brought into levels; each thread unpacks a tile. */
export const importBytes = ({ width, height, planes, tilePixels = 0 }: Size, threads: number): number =>
  4 * width * height * (2 * planes + 2) + TILE_BYTES * tilePixels * threads;

/** Bytes that a render takes: three planes of the picture, and about as many images on the way as there are threads and planes. */
export const renderBytes = ({ width, height }: { width: number; height: number }, threads: number): number =>
  4 * width * height * (6 + 3 * threads);
