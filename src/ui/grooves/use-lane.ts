import { useMemo, useRef, useState } from 'react';
import { laneValue, replaced, thinned } from '@/core/groove/lanes';
import type { GrooveNote, LanePoint } from '@/core/groove/model';
import { type Shape, shapePoints } from '@/core/groove/shapes';
import { useCommands } from '../data/commit';
import { createStore, useStore } from '../parts/store';
import { noteChanges } from './edits';
import { isSameLane, type LaneChoice, type LaneShown, laneChanged, laneChoices } from './lane-choices';
import { player } from './player';
import type { GrooveDesk } from './use-groove-desk';

/** What the lane shows while it is open; null while it is not. */
export const laneShown = createStore<LaneShown | null>(null);

/** Drawn points within so much of the bar of a line are left out. */
const TOLERANCE = 0.004;
const newId = () => crypto.randomUUID();

/** The lane under the grid: what it shows of the chosen row, and how it is changed; each gesture is one edit. */
export function useLane(desk: GrooveDesk) {
  const { commit } = useCommands();
  const wanted = useStore(laneShown);
  const { view, kit, rows, cell, starts, bar, lastBar } = desk;
  const row = rows[cell.row];
  const choices = useMemo(() => laneChoices(view, kit, row), [view, kit, row]);
  const choice = choices.find(({ shown }) => wanted && isSameLane(shown, wanted)) ?? (choices[0] as LaneChoice);
  const [draft, setDraft] = useState<readonly LanePoint[] | null>(null);
  const recorded = useRef<LanePoint[]>([]);
  const { of, lane, shown } = choice;
  const [from, to] = [starts[bar] as number, starts[lastBar + 1] as number];

  const changed = (points: readonly LanePoint[], holds = lane?.holds ?? false) =>
    laneChanged(view, row, choice, points, holds, newId);
  const store = (label: string, points: readonly LanePoint[], holds = lane?.holds ?? false) => {
    const changes = changed(points, holds);
    setDraft(null);
    if (changes.length === 0) return;
    player.take(changes);
    void commit(label, changes);
  };
  const merged = (drawn: readonly LanePoint[]) => {
    const ordered = [...drawn].sort((a, b) => a.tick - b.tick);
    const [first, last] = [ordered[0] as LanePoint, ordered.at(-1) as LanePoint];
    return replaced(lane ?? { points: [], holds: false }, of, first.tick, last.tick, thinned(ordered, of, TOLERANCE));
  };
  return {
    ...{ row, choices, choice, of, lane, draft },
    isNotes: shown.kind === 'note',
    /** The points that are shown: those that are being drawn, or the lane's. */
    points: draft ?? lane?.points ?? [],
    choose: (next: LaneShown) => laneShown.set(next),
    /** While a line is drawn; it is heard when it is let go. */
    drawing: (drawn: readonly LanePoint[]) => setDraft(drawn.length > 0 ? merged(drawn) : null),
    drawn: (points: readonly LanePoint[]) => {
      if (points.length > 0) store(`drew ${choice.name}`, merged(points));
    },
    giveUp: () => setDraft(null),
    /** A value at the cell, as a point of its own. */
    setAt: (tick: number, value: number) => store(`set ${choice.name}`, merged([{ tick, value }])),
    valueAt: (tick: number) => (lane ? laneValue(lane, of, tick) : null),
    empty: () => {
      const isPart = lastBar > bar || desk.plays === 'bar';
      const outside = (lane?.points ?? []).filter(({ tick }) => tick < from || tick > to);
      store(`emptied ${choice.name}`, isPart ? outside : []);
    },
    turnHolds: () => lane && store(`changed ${choice.name}`, lane.points, !lane.holds),
    fill: (shape: Shape, seed: number) => {
      const made = shapePoints(shape, of, from, to, seed);
      store(
        `filled ${choice.name} with a ${shape.form}`,
        replaced(lane ?? { points: [], holds: false }, of, from, to, made),
      );
    },
    /** A value of the hand while it runs, heard from now on; null ends the gesture, which is then stored. */
    record: (value: number | null) => {
      if (value === null) {
        const all = recorded.current.splice(0);
        if (all.length > 0) store(`recorded ${choice.name}`, merged(all));
        else setDraft(null);
        return;
      }
      const heard = player.heardTick();
      if (heard === null) return;
      const tick = Math.round(heard);
      const last = recorded.current.at(-1);
      // Around the end of the loop it goes on at the beginning: what lies there is written over.
      if (last && tick < last.tick) {
        store(`recorded ${choice.name}`, merged(recorded.current.splice(0)));
      }
      recorded.current.push({ tick, value });
      setDraft(merged(recorded.current));
      player.preview(changed(merged([...recorded.current, { tick: tick + 1, value }])));
    },
    /** Values of notes that were drawn, by note. */
    setNotes: (values: ReadonlyMap<string, number>) => {
      if (shown.kind !== 'note' || values.size === 0) return;
      const notes = view.notes.filter(({ id }) => values.has(id));
      const after = notes.map((note): GrooveNote => ({ ...note, [shown.value]: values.get(note.id) as number }));
      const changes = noteChanges(notes, after);
      player.take(changes);
      void commit(`drew ${choice.name}`, changes);
    },
  };
}

export type Lane = ReturnType<typeof useLane>;
