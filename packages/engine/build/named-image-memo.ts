import { UserError } from '@owl-loom/base/errors';
import type { BuilderImage } from './context';

/** Images that go by a name, strands and shared masks: each is made once, when it is first asked for. */
export class NamedImageMemo {
  private readonly made = new Map<string, BuilderImage | UserError>();
  private readonly making: { key: string; name: string }[] = [];

  /**
   * @param key what tells the image from all others
   * @param name what people call it
   * @param path where it is asked for
   * @throws UserError where it comes back to itself, naming all on the way, and whatever its making throws
   */
  once(key: string, name: string, path: string, make: () => BuilderImage): BuilderImage {
    const known = this.made.get(key);
    if (known instanceof UserError) throw known;
    if (known) return known;
    const before = this.making.findIndex((other) => other.key === key);
    if (before >= 0) throw cycleError([...this.making.slice(before).map((other) => other.name), name], path);
    this.making.push({ key, name });
    try {
      const image = make();
      this.made.set(key, image);
      return image;
    } catch (error) {
      if (error instanceof UserError) this.made.set(key, error);
      throw error;
    } finally {
      this.making.pop();
    }
  }
}

const cycleError = (names: readonly string[], path: string): UserError =>
  new UserError(
    'loop',
    names.length === 2
      ? `${names[0]} uses itself. Choose another strand.`
      : `Circular reference: ${names.join(' → ')}. Change the source of one of them.`,
    path,
  );
