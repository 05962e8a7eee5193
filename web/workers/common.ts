import type { Figure } from '../../core/figures/index';
import { Tiles } from './tiles';

/** What holds for every recipe that is open, since it goes by what images are made of: pixels, figures, proofs. */
export class Common {
  readonly tiles = new Tiles();
  readonly figures = new Map<string, Figure>();
  /** A number for every figure that was ever used: images made with another one are other images. */
  private readonly serials = new WeakMap<Figure, number>();
  private serial = 0;
  /** Pictures that lie on the server at their true full size, by name. */
  readonly proofs = new Set<string>();

  serialOf(figure: Figure): number {
    const known = this.serials.get(figure) ?? ++this.serial;
    this.serials.set(figure, known);
    return known;
  }
}
