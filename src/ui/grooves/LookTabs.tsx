import { useStore } from '../parts/store';
import { NAMES_PX } from './measures';
import { notePanel } from './NotePanel';
import { type GrooveDesk, grooveLook } from './use-groove-desk';
import { laneShown } from './use-lane';

/** What is heard, and how the notes are shown: as steps or at their times, with their values or a lane beneath. */
export function LookTabs({ desk, heard }: { desk: GrooveDesk; heard: number | null }) {
  const { view, look } = desk;
  const values = useStore(notePanel);
  const lane = useStore(laneShown);
  return (
    <div className="flex-none self-center pl-3" style={{ width: NAMES_PX }}>
      <p className={`font-semibold text-[12px] ${heard === null ? 'text-soft' : 'text-madder'}`}>
        {heard === null ? `${view.notes.length} notes` : `plays bar ${heard + 1}`}
      </p>
      <div className="-ml-1 flex text-[11.5px]">
        <Tab label="Steps" isOn={look === 'grid'} onPress={() => grooveLook.set('grid')} />
        <Tab
          label="Times"
          title="Notes at their true times: select, move, copy, make longer"
          isOn={look === 'notes'}
          onPress={() => grooveLook.set('notes')}
        />
        <span className="mx-[2px] my-[2px] border-line border-l" />
        <Tab
          label="Values"
          title="Velocity, roll, level, pitch, pan, filter and start of notes"
          isOn={values}
          onPress={() => notePanel.set(!values)}
        />
        <Tab
          label="Lane"
          title="A value over time, drawn under the grid"
          isOn={lane !== null}
          onPress={() => laneShown.set(lane === null ? { kind: 'note', value: 'velocity' } : null)}
        />
      </div>
    </div>
  );
}

interface TabProps {
  readonly label: string;
  readonly title?: string;
  readonly isOn: boolean;
  readonly onPress: () => void;
}

function Tab({ label, title, isOn, onPress }: TabProps) {
  return (
    <button
      type="button"
      aria-pressed={isOn}
      title={title}
      className={`rounded px-[3px] ${isOn ? 'bg-selection font-semibold text-verdigris' : 'text-soft hover:text-ink'}`}
      onClick={onPress}
    >
      {label}
    </button>
  );
}
