import type { GrooveView } from '@/contract/views';
import type { WholeGroove } from '@/core/groove/midi';
import { createStore } from '../parts/store';

/** Something that is heard and shown in place of the groove before it is taken. */
export interface Offer {
  readonly name: string;
  readonly view: GrooveView;
}

/** What is offered, and which of it is heard; nothing is stored until one is kept. */
export interface Trial {
  /** What they are: "bar 3", "MIDI files". */
  readonly of: string;
  readonly offers: readonly Offer[];
  readonly at: number;
  readonly keep: (offer: Offer) => void;
  /** Others of the same kind, where there are any. */
  readonly again?: () => void;
  /** It is chosen elsewhere: no line of its own shows it. */
  readonly isQuiet?: boolean;
}

export const trial = createStore<Trial | null>(null);

/** Goes on to another offer, around the end. */
export function stepTrial(by: number): void {
  const now = trial.get();
  if (!now) return;
  const count = now.offers.length;
  trial.set({ ...now, at: (now.at + by + count) % count });
}

export function keepTrial(): void {
  const now = trial.get();
  trial.set(null);
  const offer = now?.offers[now.at];
  if (offer) now.keep(offer);
}

/** A groove that is not stored as a view. */
export function offered({ groove, rows, notes, lanes }: WholeGroove): GrooveView {
  const fresh = <T extends object>(all: readonly T[]) => all.map((one) => ({ rev: 1, ...one }));
  return {
    groove: { ...groove, id: 'offered-groove', rev: 1 },
    ...{ rows: fresh(rows), notes: fresh(notes).toSorted((a, b) => a.tick - b.tick), lanes: fresh(lanes) },
  };
}
