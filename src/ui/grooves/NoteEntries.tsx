import { type ActionItem, ActionItems } from '../parts/ActionItems';
import { useStore } from '../parts/store';
import { useDeskNow } from './desk-now';
import { paints } from './use-note-hand';

/** What can be done to several notes at once. */
export function NoteEntries() {
  const { desk, edits } = useDeskNow();
  const isPainting = useStore(paints);
  const { chosen } = edits;
  const any = chosen.length > 0;
  const what = chosen.length === 1 ? 'the note' : `${chosen.length} notes`;
  const actions: readonly ActionItem[] = [
    ['Select all · Ctrl A', desk.view.notes.length > 0, edits.selectAll],
    [`Copy ${what} · Ctrl C`, any, edits.copy],
    [`Cut ${what} · Ctrl X`, any, edits.cut],
    ['Paste at the cell · Ctrl V', true, edits.paste],
    [`Split ${what}`, any, edits.split],
    [`Take ${what} away · Delete`, any, edits.remove],
    ['A tick earlier · Ctrl ←', any, () => edits.nudge(-1)],
    ['A tick later · Ctrl →', any, () => edits.nudge(1)],
    ['A millisecond earlier · Ctrl Shift ←', any, () => edits.nudgeMs(-1)],
    ['A millisecond later · Ctrl Shift →', any, () => edits.nudgeMs(1)],
    [isPainting ? 'Frame notes on free ground' : 'Paint notes on free ground', true, () => paints.set(!isPainting)],
  ];
  return <ActionItems actions={actions} />;
}
