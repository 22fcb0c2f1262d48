import { MenuItem } from '@headlessui/react';
import { lengthened, type Rebarred, withBars, withCopies, withoutBars } from '@/core/groove/bars';
import { MOST_BARS } from '@/core/groove/model';
import { useCommands } from '../data/commit';
import { type ActionItem, ActionItems } from '../parts/ActionItems';
import { tell } from '../parts/notice';
import { useDeskNow } from './desk-now';
import { barsChanged, noteChanges } from './edits';
import { useVariations } from './use-variations';

/** What can be done to a groove's bars: nothing is lost that undo does not bring back. */
export function BarEntries() {
  const { desk } = useDeskNow();
  const { commit } = useCommands();
  const { view, bar, lastBar } = desk;
  const { groove, notes } = view;
  const newId = () => crypto.randomUUID();
  const store = (label: string, made: Rebarred) => void commit(label, barsChanged(view, made));
  const count = lastBar - bar + 1;
  const which = count === 1 ? `bar ${bar + 1}` : `bars ${bar + 1} to ${lastBar + 1}`;
  const room = groove.bars + count <= MOST_BARS;
  const vary = useVariations(desk);
  const actions: readonly ActionItem[] = [
    [`Try bar ${bar + 1} otherwise, or with a fill …`, notes.length > 0, vary],
    [
      `Repeat all ${groove.bars === 1 ? 'of it' : `${groove.bars} bars`}: twice as long`,
      2 * groove.bars <= MOST_BARS,
      () => store('made the groove twice as long', lengthened(view, 2 * groove.bars, newId)),
    ],
    [
      'Half as long: the first half stays',
      groove.bars > 1,
      () => store('made the groove half as long', lengthened(view, Math.ceil(groove.bars / 2), newId)),
    ],
    [
      `Copy ${which} behind ${count === 1 ? 'itself' : 'themselves'}`,
      room,
      () => store(`copied ${which}`, withCopies(view, bar, lastBar + 1, newId)),
    ],
    [
      `Put an empty bar before ${bar + 1}`,
      groove.bars < MOST_BARS,
      () => store(`put a bar before bar ${bar + 1}`, withBars(view, bar, 1, newId)),
    ],
    [
      `Take ${which} out`,
      groove.bars > count,
      () => store(`took ${which} out`, withoutBars(view, bar, lastBar + 1, newId)),
    ],
  ];
  const clear = () => {
    void commit(`cleared all strokes of ${groove.name}`, noteChanges(notes, []));
    tell(`All ${notes.length} strokes are gone; Ctrl Z brings them back.`);
  };
  return (
    <>
      <ActionItems actions={actions} />
      <MenuItem disabled={notes.length === 0}>
        <button
          type="button"
          className="mt-3 block w-full rounded border-line border-t px-2 py-1 text-left text-madder data-disabled:text-soft data-focus:bg-selection"
          onClick={clear}
        >
          Clear all strokes of all bars
        </button>
      </MenuItem>
    </>
  );
}
