import { closeSync, fstatSync, openSync, renameSync, writeSync } from 'node:fs';
import { errorCodeOf } from '@owl-loom/base/errors';

/** Bytes after which a log is put aside, and how many such are kept. */
const LONGEST = 4 * 2 ** 20;
const KEPT = 3;

/**
 * A log that never stops the server: a line that cannot be written, as on a full disk, is counted, and the count is the next thing that is
 * written. Put aside when it grows long; the oldest goes.
 */
export class LogFile {
  private file: number | undefined;
  private bytes = 0;
  private lost = 0;

  /** @param longest bytes after which it is put aside */
  constructor(
    private readonly path: string,
    private readonly longest = LONGEST,
  ) {
    try {
      this.open();
    } catch {
      // The first line tries again, and counts itself where that fails as well.
    }
  }

  /** Writes a line, its end included. */
  write(line: string): void {
    try {
      this.open();
      const before =
        this.lost > 0
          ? `${JSON.stringify({ level: 40, time: Date.now(), lost: this.lost, msg: 'lines could not be written' })}\n`
          : '';
      this.put(before + line);
      this.lost = 0;
      if (this.bytes > this.longest) this.putAside();
    } catch {
      // There is no other place to say it in; how many were lost is said as soon as there is room.
      this.lost++;
    }
  }

  close(): void {
    if (this.file !== undefined) closeSync(this.file);
    this.file = undefined;
  }

  private open(): void {
    if (this.file !== undefined) return;
    this.file = openSync(this.path, 'a');
    this.bytes = fstatSync(this.file).size;
  }

  private put(text: string): void {
    if (this.file === undefined) return;
    const bytes = Buffer.from(text);
    for (let done = 0; done < bytes.length; ) done += writeSync(this.file, bytes, done);
    this.bytes += bytes.length;
  }

  private putAside(): void {
    this.close();
    for (let n = KEPT - 1; n >= 1; n--) {
      try {
        renameSync(`${this.path}.${n}`, `${this.path}.${n + 1}`);
      } catch (error) {
        if (errorCodeOf(error) !== 'ENOENT') throw error;
      }
    }
    renameSync(this.path, `${this.path}.1`);
  }
}
