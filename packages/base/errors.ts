/**
 * A fault that a person can mend: one clear sentence that says what is wrong and what to do.
 * Anything thrown that is not a `UserError` is a fault of ours.
 */
export class UserError extends Error {
  override readonly name = 'UserError';

  /**
   * @param code short kebab-case name of the fault, stable across versions
   * @param message one sentence for a person
   * @param path where in a recipe the error lies, such as `strands[2].steps[0].degree`
   * @param where the same place as people find it, such as "OIII › gradient"
   */
  constructor(
    readonly code: string,
    message: string,
    readonly path?: string,
    readonly where?: string,
  ) {
    super(message);
  }
}

/** The sentence to show for anything that was thrown; a fault of ours is named as such. */
export function userMessageOf(error: unknown): string {
  if (error instanceof UserError) {
    const place = error.where ?? error.path;
    return place ? `${place}: ${error.message}` : error.message;
  }
  if (error instanceof Error) return `Something went wrong inside Owl Loom: ${error.message}`;
  return `Something went wrong inside Owl Loom: ${String(error)}`;
}

/** The code that Node, the database or the system gives an error, `ENOENT`; undefined where there is none. */
export function errorCodeOf(error: unknown): string | undefined {
  if (typeof error !== 'object' || error === null || !('code' in error)) return undefined;
  return typeof error.code === 'string' ? error.code : undefined;
}
