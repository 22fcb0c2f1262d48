import { useActions } from '../parts/actions';
import { useStore } from '../parts/store';
import { notePanel } from './NotePanel';
import { player } from './player';
import { type GrooveDesk, grooveLook } from './use-groove-desk';
import { laneShown } from './use-lane';
import type { NoteEdits } from './use-note-edits';
import { useVariations } from './use-variations';
import { waysOut } from './ways-out';

/** What the command box can do to a groove. */
export function useGrooveActions(desk: GrooveDesk, edits: NoteEdits): void {
  const { bar, plays, isRunning, look } = desk;
  const row = desk.rows[desk.cell.row];
  const lane = useStore(laneShown);
  const values = useStore(notePanel);
  const vary = useVariations(desk);
  useActions([
    {
      name: isRunning ? 'Stop the groove' : 'Play the groove',
      key: 'Space',
      run: () => (isRunning ? player.stop() : void player.play()),
    },
    {
      name: plays === 'bar' ? 'Play all bars' : `Play bar ${bar + 1} alone`,
      run: () => desk.setPlays(plays === 'bar' ? 'all' : 'bar'),
    },
    { name: `Try bar ${bar + 1} otherwise, or with a fill`, run: vary },
    {
      name: look === 'grid' ? 'Show notes at their times' : 'Show notes as steps',
      run: () => grooveLook.set(look === 'grid' ? 'notes' : 'grid'),
    },
    { name: `${values ? 'Hide' : 'Show'} the values of notes`, run: () => notePanel.set(!values) },
    {
      name: lane ? 'Close the lane' : 'Open a lane',
      run: () => {
        laneShown.set(lane ? null : { kind: 'note', value: 'velocity' });
        if (!lane) requestAnimationFrame(toLane);
      },
    },
    ...(lane ? [{ name: 'Go to the lane', run: toLane }] : []),
    ...waysOut(desk).flatMap(([name, isOpen, run]) =>
      isOpen ? [{ name: `${desk.stored.groove.name}: ${name}`, run }] : [],
    ),
    ...(row && row.notes.length > 0
      ? [{ name: `Clear the strokes of ${row.name}`, run: () => edits.remove(row, row.notes) }]
      : []),
  ]);
}

/** What the lane shows gets the focus: typed, it finds another. */
function toLane(): void {
  document.querySelector<HTMLElement>('[data-testid=groove-lane] input')?.focus();
}
