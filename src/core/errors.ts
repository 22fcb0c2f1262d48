/**
 * The one family of errors the core throws. `code` is stable and mapped to an HTTP status once, in the server's
 * guard; `message` says what is wrong, where, and what would be right.
 */
export type ErrorCode =
  | 'not-audio'
  | 'unsupported-audio'
  | 'damaged-audio'
  | 'out-of-range'
  | 'not-found'
  | 'stale'
  | 'refused'
  | 'forbidden'
  | 'too-large'
  | 'cancelled'
  | 'storage-full'
  /** The workspace cannot be worked on: it is not there, in use elsewhere, or of another version. */
  | 'unavailable'
  /** Something that was under way was broken off and can be begun again as it was. */
  | 'interrupted';

const MARK = Symbol.for('undercroft.error');

export class UndercroftError extends Error {
  readonly [MARK] = true;

  constructor(
    readonly code: ErrorCode,
    message: string,
    readonly path?: string,
  ) {
    super(message);
    this.name = 'UndercroftError';
  }

  /**
   * The server's bundles may each hold a copy of this class, and an error made by one is caught by another: `instanceof`
   * goes by a mark that all copies share.
   */
  static override [Symbol.hasInstance](value: unknown): boolean {
    return value instanceof Error && MARK in value;
  }
}

/** Throws `out-of-range` with the bounds and the value received unless `low <= value <= high`. */
export function requireRange(name: string, value: number, low: number, high: number): number {
  if (!(value >= low && value <= high)) {
    throw new UndercroftError('out-of-range', `${name} must lie between ${low} and ${high}; it was ${value}.`, name);
  }
  return value;
}

/** For the last branch of a switch over a union: fails to compile when a case is missing. */
export function never(value: never): never {
  throw new Error(`Unhandled case: ${JSON.stringify(value)}`);
}
