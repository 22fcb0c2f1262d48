/**
 * The family of errors the core throws. `code` is stable and mapped to an HTTP status once, in the server's guard;
 * `message` says what is wrong, where, and what would be right.
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
  /** The workspace cannot be used: it does not exist, is in use elsewhere, or is of another version. */
  | 'unavailable'
  /** An operation was interrupted and can be started again. */
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

  /** Bundles of the server may each hold a copy of this class: `instanceof` checks a mark that all copies share. */
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
