import { useHotkeys } from 'react-hotkeys-hook';
import { useActions } from '../parts/actions';
import { pageKey } from '../parts/focus';
import type { GrooveDesk } from './use-groove-desk';
import type { SelectionEdits } from './use-selection-edits';

/** Keys and commands for several notes: selecting along the cells, copying, moving by ticks and milliseconds. */
export function useSelectionKeys(desk: GrooveDesk, edits: SelectionEdits): void {
  const { cell, step, starts, rows, selected, setSelected } = desk;
  const isOn = { ...pageKey, enabled: !desk.isTrial };
  const extend = (by: number) => {
    const tick = Math.max(0, Math.min((starts.at(-1) as number) - 1, cell.tick + by));
    const [from, to] = [Math.min(cell.tick, tick), Math.max(cell.tick, tick) + step];
    const gone = (rows[cell.row]?.notes ?? []).filter((note) => note.tick >= from && note.tick < to);
    setSelected(new Set([...selected, ...gone.map(({ id }) => id)]));
    desk.setCell({ ...cell, tick });
  };
  useHotkeys('ctrl+a, meta+a', edits.selectAll, isOn);
  useHotkeys('ctrl+c, meta+c', edits.copy, isOn);
  useHotkeys('ctrl+x, meta+x', edits.cut, isOn);
  useHotkeys('ctrl+v, meta+v', edits.paste, isOn);
  useHotkeys('ctrl+left', () => edits.nudge(-1), isOn);
  useHotkeys('ctrl+right', () => edits.nudge(1), isOn);
  useHotkeys('ctrl+shift+left', () => edits.nudgeMs(-1), isOn);
  useHotkeys('ctrl+shift+right', () => edits.nudgeMs(1), isOn);
  useHotkeys('shift+left', () => extend(-step), isOn);
  useHotkeys('shift+right', () => extend(step), isOn);
  useHotkeys('escape', () => selected.size > 0 && setSelected(new Set()), { ...pageKey, enabled: selected.size > 0 });
  const what = edits.chosen.length === 1 ? 'the note' : `${edits.chosen.length} notes`;
  useActions(edits.chosen.length === 0 ? [] : [{ name: `Split ${what}`, run: edits.split }]);
}
