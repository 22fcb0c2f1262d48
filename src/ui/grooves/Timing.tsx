import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { memo, useState } from 'react';
import { humanised, quantised } from '@/core/groove/edits';
import { GROOVE_PARAMETERS as P } from '@/core/groove/parameters';
import { number } from '@/core/parameter/parameter';
import { useCommands } from '../data/commit';
import { ParameterRows } from '../parts/ParameterRows';
import { useDeskNow } from './desk-now';
import { noteChanges } from './edits';
import { OtherTiming } from './OtherTiming';
import { Signature } from './Signature';
import { TempoFrom } from './TempoFrom';
import { chosenNotes } from './use-groove-desk';

/** What timing edits ask for; kept while the page is open. */
const ASKED = {
  strength: number({
    label: 'To the grid by',
    unit: '%',
    low: 0,
    high: 1,
    step: 0.05,
    digits: 0,
    times: 100,
    initial: 1,
  }),
  looseTicks: number({ label: 'Loosen times by', unit: 'ticks', low: 0, high: 120, step: 1, initial: 12, whole: true }),
  looseShare: number({
    label: 'Loosen velocities by',
    unit: '%',
    low: 0,
    high: 1,
    step: 0.01,
    digits: 0,
    times: 100,
    initial: 0.1,
  }),
} as const;
type Asked = { readonly [K in keyof typeof ASKED]: number };

/** What a timing is told by: its swing, unless that is even. */
export const Timing = memo(function Timing({ swing }: { swing: number }) {
  return (
    <Popover className="relative">
      <PopoverButton className="quiet-button">
        Timing{swing !== P.swing.initial ? ` · swing ${Math.round(swing * 100)} %` : ''}
      </PopoverButton>
      <PopoverPanel
        anchor="bottom start"
        className="z-40 mt-1 w-[380px] rounded-lg border border-edge bg-sheet p-3 shadow-lg"
      >
        <TimingPanel />
      </PopoverPanel>
    </Popover>
  );
});

/** Swing, signature, quantising and loosening: of what is selected, else of the bars under work where there is a stretch, else of all. */
function TimingPanel() {
  const { desk } = useDeskNow();
  const { commit } = useCommands();
  const { view, step, starts, bar, lastBar } = desk;
  const { groove } = view;
  const [asked, setAsked] = useState<Asked>({ strength: 1, looseTicks: 12, looseShare: 0.1 });
  const isPart = lastBar > bar;
  const isSome = desk.selected.size > 0;
  const notes = isSome
    ? chosenNotes(desk)
    : isPart
      ? view.notes.filter(({ tick }) => tick >= (starts[bar] as number) && tick < (starts[lastBar + 1] as number))
      : view.notes;
  const whom = isSome ? `${notes.length} selected notes` : isPart ? `bars ${bar + 1} to ${lastBar + 1}` : 'all strokes';
  const strength = Math.round(asked.strength * 100);
  return (
    <>
      <TempoFrom desk={desk} />
      <ParameterRows
        of={P}
        keys={['swing', 'swingOf']}
        values={groove}
        onSet={(said, set) =>
          void commit(`changed the ${said} of ${groove.name}`, [
            { op: 'update', doc: 'groove', id: groove.id, rev: groove.rev, set },
          ])
        }
      />
      <div className="mt-2 border-line border-t pt-2">
        <Signature desk={desk} />
      </div>
      <div className="mt-2 border-line border-t pt-2">
        <ParameterRows
          of={ASKED}
          keys={['strength']}
          values={asked}
          onSet={(_, set) => setAsked({ ...asked, ...set })}
        />
        <button
          type="button"
          className="quiet-button mt-1"
          disabled={notes.length === 0}
          onClick={() =>
            void commit(
              `quantised ${whom} by ${strength} %`,
              noteChanges(notes, quantised(notes, groove, step, asked.strength)),
            )
          }
        >
          Quantise {whom}
        </button>
        <OtherTiming desk={desk} notes={notes} whom={whom} strength={asked.strength} />
      </div>
      <div className="mt-2 border-line border-t pt-2">
        <ParameterRows
          of={ASKED}
          keys={['looseTicks', 'looseShare']}
          values={asked}
          onSet={(_, set) => setAsked({ ...asked, ...set })}
        />
        <button
          type="button"
          className="quiet-button mt-1"
          disabled={notes.length === 0}
          onClick={() => {
            const seed = Math.floor(Math.random() * 0xffffff);
            const after = humanised(notes, asked.looseTicks, asked.looseShare, seed);
            void commit(`loosened ${whom}`, noteChanges(notes, after));
          }}
        >
          Loosen {whom}
        </button>
      </div>
    </>
  );
}
