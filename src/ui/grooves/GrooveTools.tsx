import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { ChevronDown } from 'lucide-react';
import type { ReactNode } from 'react';
import type { GrooveView } from '@/contract/views';
import { grooveToMidi } from '@/core/groove/midi';
import { GROOVE_PARAMETERS } from '@/core/groove/parameters';
import { STEPS } from '@/core/groove/time';
import type { Pad } from '@/core/kit/model';
import { LONGEST_NAME } from '@/core/naming/names';
import { safeFileName } from '@/core/naming/safe-names';
import { useCommands } from '../data/commit';
import { saveFile } from '../data/download';
import { Choice } from '../parts/Choice';
import { NumberField } from '../parts/NumberField';
import { useStore } from '../parts/store';
import { TextField } from '../parts/TextField';
import { useTaps } from '../parts/use-taps';
import { BarMenu } from './BarMenu';
import { player } from './player';
import { Timing } from './Timing';
import type { GrooveDesk } from './use-groove-desk';
import { placingSounds } from './use-note-edits';

const STEP_OPTIONS = STEPS.map(([ticks, label]) => [ticks, `steps ${label}`] as const);

/** The line over the grid: name, tempo, steps, what is played, timing, bars, and how it gets out. */
export function GrooveTools({ desk, pads, list }: { desk: GrooveDesk; pads: readonly Pad[]; list: ReactNode }) {
  const { commit } = useCommands();
  const { view, bar, lastBar, plays } = desk;
  const { groove } = view;
  const sounds = useStore(placingSounds);
  const set = (label: string, fields: Partial<GrooveView['groove']>) =>
    void commit(label, [{ op: 'update', doc: 'groove', id: groove.id, rev: groove.rev, set: fields }]);
  const setTempo = (bpm: number) => set(`set the tempo of ${groove.name} to ${bpm} BPM`, { bpm });
  const tap = useTaps(setTempo);
  return (
    <div className="flex h-10 flex-none items-center gap-2 overflow-hidden border-line border-b bg-sheet px-4">
      <TextField
        label="Name of the groove"
        className="w-[120px] font-semibold"
        value={groove.name}
        maxLength={LONGEST_NAME}
        onCommit={(name) => set(`renamed ${groove.name} to ${name}`, { name })}
      />
      {list}
      <NumberField of={GROOVE_PARAMETERS.bpm} value={groove.bpm} inline onCommit={setTempo} />
      <button type="button" className="quiet-button px-2" title="Tap the beat four times or more" onClick={tap}>
        Tap
      </button>
      <Choice label="Steps" className="quiet-button" value={desk.step} options={STEP_OPTIONS} onChoose={desk.setStep} />
      <Timing desk={desk} />
      <BarMenu desk={desk} />
      <Choice
        label="Plays"
        className="quiet-button"
        value={plays}
        options={[
          ['all', 'plays all'],
          ['bar', `plays bar ${bar + 1}`],
          ['stretch', lastBar > bar ? `plays ${bar + 1} to ${lastBar + 1}` : 'plays the stretch'],
        ]}
        onChoose={desk.setPlays}
      />
      <button
        type="button"
        className="quiet-button whitespace-nowrap"
        aria-pressed={desk.follows}
        title="Whether the bar under work stays as the loop goes on, or goes along with it"
        onClick={() => desk.setFollows(!desk.follows)}
      >
        {desk.follows ? 'Goes along' : `Stays on ${bar + 1}`}
      </button>
      <button
        type="button"
        className="quiet-button whitespace-nowrap max-xl:hidden"
        aria-pressed={desk.onlyUsed}
        onClick={() => desk.setOnlyUsed(!desk.onlyUsed)}
      >
        {desk.onlyUsed ? 'Pads in use' : 'All pads'}
      </button>
      <button
        type="button"
        className="quiet-button whitespace-nowrap max-xl:hidden"
        aria-pressed={sounds}
        title="Whether a stroke is heard as it is placed"
        onClick={() => placingSounds.set(!sounds)}
      >
        {sounds ? 'Sounds' : 'Silent'}
      </button>
      <span className="ml-auto" />
      <button
        type="button"
        className={desk.isRunning ? 'quiet-button' : 'next-button'}
        title="Space"
        onClick={() => (desk.isRunning ? player.stop() : void player.play())}
      >
        {desk.isRunning ? 'Stop' : 'Play'}
      </button>
      <TakeOut view={view} pads={pads} />
    </div>
  );
}

/** How a groove leaves: as a MIDI file, by its own notes or the kit's. */
function TakeOut({ view, pads }: { view: GrooveView; pads: readonly Pad[] }) {
  const save = (format: 0 | 1, own: readonly Pad[]) =>
    saveFile(
      `${safeFileName(view.groove.name)}.mid`,
      new Blob([grooveToMidi(view, format, own)], { type: 'audio/midi' }),
    );
  const ways: readonly (readonly [string, () => void])[] = [
    ['MIDI file, one track', () => save(0, [])],
    ['MIDI file, a track a row', () => save(1, [])],
    ['MIDI file by the notes of this kit', () => save(0, pads)],
  ];
  return (
    <Menu>
      <MenuButton className="quiet-button inline-flex items-center gap-1 whitespace-nowrap">
        Take it out … <ChevronDown size={12} aria-hidden />
      </MenuButton>
      <MenuItems
        anchor="bottom end"
        className="z-40 mt-1 w-[260px] rounded-lg border border-edge bg-sheet p-1 shadow-lg outline-none"
      >
        {ways.map(([label, run]) => (
          <MenuItem key={label}>
            <button
              type="button"
              className="block w-full rounded px-2 py-1 text-left data-focus:bg-selection"
              onClick={run}
            >
              {label}
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}
