import { useHotkeys } from 'react-hotkeys-hook';
import { barOf } from '@/core/groove/time';
import { leaveControl, pageKey } from '../parts/focus';
import { player } from './player';
import type { GrooveDesk } from './use-groove-desk';
import type { NoteEdits } from './use-note-edits';
import type { SelectionEdits } from './use-selection-edits';

const VELOCITY_STEP = 8;

/** Keys of the grid: arrows move the cell, Enter strikes or takes away, Shift with arrows makes harder or softer, Alt rolls. */
export function useGridKeys(desk: GrooveDesk, edits: NoteEdits, selection: SelectionEdits): void {
  const isOn = { ...pageKey, enabled: !desk.isTrial };
  const { rows, cell, note, step, starts, view } = desk;
  const row = rows[cell.row];
  const move = (by: { row?: number; tick?: number }) => {
    leaveControl();
    const tick = Math.max(0, Math.min((starts.at(-1) as number) - 1, cell.tick + (by.tick ?? 0)));
    desk.setCell({ row: Math.max(0, Math.min(rows.length - 1, cell.row + (by.row ?? 0))), tick });
  };
  const harder = (by: number) => row && note && edits.harder(row, note, note.velocity + by);
  const roll = (by: number) => row && note && edits.roll(row, note, note.strokes + by);
  const toBar = (n: number) => {
    const to = Math.max(0, Math.min(view.groove.bars - 1, n));
    desk.setBar(to);
    desk.setCell({ ...cell, tick: starts[to] as number });
  };
  const toggle = () => {
    if (!row) return;
    if (note) edits.remove(row, [note]);
    else edits.place(row, cell.tick);
  };
  const playOrStop = () => (desk.isRunning ? player.stop() : void player.play());
  const inGrid = {
    ...pageKey,
    enabled: !desk.isTrial,
    ignoreEventWhen: (event: KeyboardEvent) =>
      pageKey.ignoreEventWhen(event) || (event.target as HTMLElement).closest('button, a, input') !== null,
  };
  useHotkeys('left', () => move({ tick: -step }), isOn);
  useHotkeys('right', () => move({ tick: step }), isOn);
  useHotkeys('up', () => move({ row: -1 }), isOn);
  useHotkeys('down', () => move({ row: 1 }), isOn);
  useHotkeys('shift+up', () => harder(VELOCITY_STEP), isOn);
  useHotkeys('shift+down', () => harder(-VELOCITY_STEP), isOn);
  useHotkeys('alt+right', () => roll(1), isOn);
  useHotkeys('alt+left', () => roll(-1), isOn);
  useHotkeys('enter', toggle, inGrid);
  useHotkeys('delete, backspace', () => selection.chosen.length > 0 && selection.remove(), isOn);
  useHotkeys('space', playOrStop, { ...inGrid, enabled: true });
  useHotkeys('bracketleft', () => toBar(barOf(starts, cell.tick) - 1), isOn);
  useHotkeys('bracketright', () => toBar(barOf(starts, cell.tick) + 1), isOn);
}
