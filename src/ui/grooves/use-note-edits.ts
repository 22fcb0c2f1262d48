import { useMemo } from 'react';
import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import { strokesOf } from '@/core/groove/edits';
import type { GrooveNote } from '@/core/groove/model';
import { MOST_ROLL, NOTE_INITIAL } from '@/core/groove/parameters';
import { useCommands } from '../data/commit';
import { createStore, useStore } from '../parts/store';
import { soundNow } from '../sound/open-sound';
import { noteChanges, placed } from './edits';
import { player } from './player';
import type { ShownRow } from './rows';
import type { GrooveDesk } from './use-groove-desk';

type Note = Stored<GrooveNote>;

/** Whether a note is heard as it is placed, unless the groove runs. */
export const placingSounds = createStore(true);
/** The velocity of the next note: that of the last one that was placed or changed. */
const velocity = createStore(100);

/** Edits of single notes; each is one gesture. */
export function useNoteEdits({ view, step, isRunning }: GrooveDesk) {
  const { commit } = useCommands();
  const sounds = useStore(placingSounds);
  return useMemo(() => {
    const newId = () => crypto.randomUUID();
    const hear = ({ pad }: ShownRow, struck: number) => {
      if (pad && sounds && !isRunning) soundNow()?.engine.strike(pad.position, struck);
    };
    const store = (label: string, changes: Change[]) => {
      // Heard in this lap where it lies ahead: the page shows it later.
      player.take(changes);
      void commit(label, changes);
    };
    const change = (note: Note, set: Partial<GrooveNote>, label: string) =>
      store(label, noteChanges([note], [{ ...note, ...set }]));
    return {
      hear,
      place: (row: ShownRow, tick: number, set: Partial<GrooveNote> = {}) => {
        const note = { tick, length: step, ...NOTE_INITIAL, velocity: velocity.get(), ...set };
        velocity.set(note.velocity);
        store(`struck ${row.name}`, placed(view, row, note, newId));
        hear(row, note.velocity);
      },
      remove: (row: ShownRow, notes: readonly Note[]) =>
        store(
          notes.length === 1 ? `took a stroke of ${row.name} away` : `took ${notes.length} strokes away`,
          noteChanges(notes, []),
        ),
      harder: (row: ShownRow, note: Note, wanted: number) => {
        const next = Math.max(1, Math.min(127, Math.round(wanted)));
        if (next === note.velocity) return;
        velocity.set(next);
        change(note, { velocity: next }, `set a stroke of ${row.name} to velocity ${next}`);
        hear(row, next);
      },
      roll: (row: ShownRow, note: Note, wanted: number) => {
        const strokes = Math.max(1, Math.min(MOST_ROLL, Math.round(wanted)));
        if (strokes !== note.strokes)
          change(
            note,
            { strokes },
            strokes === 1 ? `made one stroke of a roll on ${row.name}` : `a roll of ${strokes} on ${row.name}`,
          );
      },
      change,
    };
  }, [view, step, isRunning, sounds, commit]);
}

export type NoteEdits = ReturnType<typeof useNoteEdits>;

/** What a note says of itself: for the cell's name and the tip. */
export function toldNote(note: GrooveNote): string {
  const { length } = strokesOf(note);
  const roll = length > 1 ? `, ${length} strokes` : '';
  return `velocity ${note.velocity}${roll}`;
}
