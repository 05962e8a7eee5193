import type { DrawReply } from '../../worker/protocol';

/** Pictures that are held: the newest may still be drawn, and the one before it once more; those before them never again. */
const HELD = 3;

/** Lets go of the memory of pictures that are no longer drawn. */
export class BitmapRecycler {
  private readonly held: DrawReply[] = [];

  took(reply: DrawReply): void {
    this.held.push(reply);
    while (this.held.length > HELD) {
      const old = this.held.shift();
      old?.bitmap.close();
      old?.other?.close();
    }
  }
}
