import { useMemo } from 'react';
import type { Stored } from '@/contract/documents';
import type { GrooveRow } from '@/core/groove/model';
import { variationsOf } from '@/core/groove/variations';
import { useCommands } from '../data/commit';
import { noteChanges } from './edits';
import { player } from './player';
import { rowOfPad } from './rows';
import { type Offer, trial } from './trial';
import type { GrooveDesk } from './use-groove-desk';

const newId = () => crypto.randomUUID();

/** Has the bar under work tried in other ways while it loops, fills last; one that is kept is one edit. */
export function useVariations({ stored, rows, bar }: GrooveDesk): () => void {
  const { commit } = useCommands();
  return useMemo(() => {
    const { groove, notes } = stored;
    // Fills strike pads that have no row yet: those are made with what is kept.
    const fresh = rows.flatMap(({ pad, rows: own }): Stored<GrooveRow>[] =>
      pad && own.length === 0 ? [{ ...rowOfPad(pad, groove.id), id: newId(), rev: 1 }] : [],
    );
    const byTone = [...rows].reverse();
    const players = byTone.flatMap(
      ({ pad, rows: own }) => own[0] ?? fresh.find(({ position }) => position === pad?.position) ?? [],
    );
    const keep = ({ name, view }: Offer) => {
      const used = new Set(view.notes.map(({ rowId }) => rowId));
      const made = fresh.filter(({ id }) => used.has(id));
      const changes = [
        ...made.map(({ id, rev: _rev, ...value }) => ({ op: 'create' as const, doc: 'grooveRow' as const, id, value })),
        ...noteChanges(notes, view.notes),
      ];
      player.take(changes);
      void commit(`${name.toLowerCase()} in bar ${bar + 1}`, changes);
    };
    const offer = (seed: number) => {
      const offers = variationsOf(groove, players, notes, bar, seed, newId).map(({ name, notes: after }): Offer => {
        const withRevs = after.map((note) => ({ rev: 1, ...note })).toSorted((a, b) => a.tick - b.tick);
        return { name, view: { ...stored, rows: [...stored.rows, ...fresh], notes: withRevs } };
      });
      trial.set({ of: `bar ${bar + 1}`, offers, at: 0, keep, again: () => offer(seed + 1) });
    };
    return () => offer(1);
  }, [stored, rows, bar, commit]);
}
