import type { KeyboardEvent } from 'react';
import { clip } from '@/core/parameter/values';
import type { GrooveDesk } from './use-groove-desk';
import type { Lane } from './use-lane';

/** Keys of the lane while it has the focus: arrows move along the steps, and set the value at the cell. */
export function useLaneKeys(desk: GrooveDesk, lane: Lane): (event: KeyboardEvent) => void {
  const { cell, step, starts, note } = desk;
  const { of, choice } = lane;
  const set = (by: number, grain: number) => {
    if (choice.shown.kind === 'note') {
      if (note) lane.setNotes(new Map([[note.id, clip(of, (note[choice.shown.value] as number) + by, grain)]]));
      return;
    }
    lane.setAt(cell.tick, clip(of, (lane.valueAt(cell.tick) ?? choice.rest ?? of.low) + by, grain));
  };
  const move = (by: number) => {
    const tick = Math.max(0, Math.min((starts.at(-1) as number) - 1, cell.tick + by));
    desk.setCell({ ...cell, tick });
  };
  return (event) => {
    const grain = event.shiftKey ? of.fine : of.step;
    const acts = new Map<string, () => void>([
      ['ArrowLeft', () => move(-step)],
      ['ArrowRight', () => move(step)],
      ['ArrowUp', () => set(grain, grain)],
      ['ArrowDown', () => set(-grain, grain)],
      ['PageUp', () => set(10 * of.step, of.step)],
      ['PageDown', () => set(-10 * of.step, of.step)],
      ['Delete', lane.empty],
    ]);
    const act = acts.get(event.key);
    if (!act || event.ctrlKey || event.altKey || desk.isTrial) return;
    act();
    event.preventDefault();
    event.stopPropagation();
  };
}
