/**
 * What lies under some things, those themselves among it, each once and after everything that lies under it. It does not climb into itself:
 * a chain may be longer than the stack of calls.
 * @param starts where to begin; nothing may lie under itself
 * @param key tells the things apart
 * @param under what lies directly under one
 */
export function inputsFirst<T, K>(
  starts: readonly T[],
  key: (one: T) => K,
  under: (one: T) => readonly T[],
): readonly T[] {
  const order: T[] = [];
  const seen = new Set<K>();
  const path: { readonly one: T; readonly left: readonly T[]; next: number }[] = [];
  const enter = (one: T): void => {
    if (seen.has(key(one))) return;
    seen.add(key(one));
    path.push({ one, left: under(one), next: 0 });
  };
  for (const start of starts) {
    enter(start);
    for (let top = path.at(-1); top; top = path.at(-1)) {
      if (top.next < top.left.length) enter(top.left[top.next++]);
      else {
        order.push(top.one);
        path.pop();
      }
    }
  }
  return order;
}
