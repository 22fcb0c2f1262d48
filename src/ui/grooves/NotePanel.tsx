import { NOTE_PARAMETERS as P } from '@/core/groove/parameters';
import { placeOf } from '@/core/groove/time';
import { number } from '@/core/parameter/parameter';
import { Parameter } from '../parts/Parameter';
import { ParameterRows } from '../parts/ParameterRows';
import { createStore } from '../parts/store';
import type { GrooveDesk } from './use-groove-desk';
import type { SelectionEdits } from './use-selection-edits';

/** Whether the values of notes are shown at the foot. */
export const notePanel = createStore(false);

const STROKE = ['velocity', 'strokes', 'ramp'] as const;
const SOUND = ['levelDb', 'semitones', 'pan', 'filterOctaves', 'startMs'] as const;
const LENGTH = number({
  label: 'Length',
  unit: 'ticks',
  low: 1,
  high: 15_360,
  step: 60,
  fine: 1,
  initial: 240,
  whole: true,
  scale: 'log',
});

/** The values of the notes that are selected, or of the cell's: typed, or drawn on their bars. */
export function NotePanel({ desk, edits }: { desk: GrooveDesk; edits: SelectionEdits }) {
  const { chosen } = edits;
  const [first] = chosen;
  if (!first)
    return (
      <p className="m-auto px-6 text-center text-soft">
        No note here. Choose a cell with a stroke, or look at the notes and frame several.
      </p>
    );
  const row = desk.rows.find(({ rows }) => rows.some(({ id }) => id === first.rowId));
  const many = chosen.length > 1;
  return (
    <section aria-label="Values of notes" className="flex min-w-0 flex-1 flex-col overflow-auto px-4 py-2">
      <p className="mb-1 flex items-baseline gap-2">
        <b>{many ? `${chosen.length} notes` : (row?.name ?? 'Note')}</b>
        <span className="figure text-[12px] text-soft">{placeOf(desk.view.groove, first.tick)}</span>
        {many && (
          <span className="text-[12px] text-soft">values are those of the first; what is set is set for all</span>
        )}
      </p>
      <div className="grid grid-cols-2 gap-x-6 @max-[520px]:grid-cols-1">
        <div>
          <ParameterRows of={P} keys={STROKE} values={first} onSet={edits.set} />
          <Parameter
            of={LENGTH}
            value={first.length}
            onCommit={(length) => length !== null && edits.set('length', { length: Math.round(length) })}
          />
        </div>
        <div>
          <ParameterRows of={P} keys={SOUND} values={first} onSet={edits.set} />
        </div>
      </div>
      {row?.pad?.filter === 'off' && first.filterOctaves !== 0 && (
        <p className="mt-1 text-[12px] text-madder">
          The filter of {row.pad.name} is off: the note’s filter moves nothing.
        </p>
      )}
    </section>
  );
}
