import { UndercroftError } from '../errors';
import { heldBack } from '../rights/rights';
import type { Credit } from './credits';

/** A recording that prevents sharing a kit. */
export interface Held {
  readonly credit: Credit;
  readonly reason: string;
}

/** The recordings of a kit that may not be shared, or whose rights are unknown. */
export function heldCredits(credits: readonly Credit[]): Held[] {
  return credits.flatMap((credit) => {
    const reason = heldBack({ rightsKind: credit.rightsKind, rightsText: credit.text });
    return reason === null ? [] : [{ credit, reason }];
  });
}

/** Throws `refused` with every sound that prevents sharing, the pads that use it, and what to do. */
export function requireShareable(kitName: string, credits: readonly Credit[]): void {
  const held = heldCredits(credits);
  if (held.length === 0) return;
  const list = held.map(({ credit, reason }) => `"${credit.title}" (${credit.pads.join(', ')}): ${reason}`);
  throw new UndercroftError(
    'refused',
    `"${kitName}" cannot be passed on. ${list.join(' ')} A private copy can be made all the same.`,
  );
}
