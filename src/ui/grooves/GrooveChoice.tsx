import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { ChevronDown } from 'lucide-react';
import { useRef } from 'react';
import { STARTERS, starterGroove } from '@/core/groove/starters';
import { useCommands } from '../data/commit';
import { useGroove, useTempos } from '../data/queries';
import { useKitDesk } from '../pads/kit-context';
import { useStore } from '../parts/store';
import { keptPlaying } from '../play/kept';
import { grooveOfKept } from './kept-groove';
import { emptyGroove, useGrooveList } from './use-grooves';

const ITEM = 'flex w-full items-baseline gap-3 rounded px-2 py-[3px] text-left data-focus:bg-selection';
const newId = () => crypto.randomUUID();
/** So many recordings are offered; Slice offers the open one. */
const MOST_RECORDINGS = 8;

/** Opens another groove, begins a new one, or takes one in: a starter of our own, or a MIDI file. */
export function GrooveChoice({ label }: { label?: string }) {
  const { list, openId, open, add, addMidi, addRecording } = useGrooveList();
  const kept = useStore(keptPlaying);
  const tempos = useTempos();
  const { view: kit } = useKitDesk();
  const { commit } = useCommands();
  const { data: groove } = useGroove(openId);
  const file = useRef<HTMLInputElement>(null);
  return (
    <>
      <Menu>
        <MenuButton
          className={`${label ? 'next-button' : 'quiet-button'} inline-flex items-center gap-1`}
          aria-label={label ?? 'Grooves'}
          title="Other grooves, new ones"
        >
          {label}
          <ChevronDown size={12} aria-hidden />
        </MenuButton>
        <MenuItems
          anchor="bottom start"
          className="z-40 mt-1 w-[280px] rounded-lg border border-edge bg-sheet p-1 shadow-lg outline-none [--anchor-max-height:520px]"
        >
          {list?.map(({ id, name, bars, bpm }) => (
            <MenuItem key={id}>
              <button type="button" className={ITEM} onClick={() => open(id)}>
                <span className={`min-w-0 flex-1 truncate ${id === openId ? 'font-semibold text-verdigris' : ''}`}>
                  {name}
                </span>
                <span className="figure text-[12px] text-soft">
                  {bars} · {bpm}
                </span>
              </button>
            </MenuItem>
          ))}
          <Heading>New</Heading>
          <MenuItem>
            <button
              type="button"
              className={ITEM}
              onClick={() => void add(emptyGroove(kit?.kit.tempoBpm ?? 120), 'began the groove')}
            >
              An empty groove
            </button>
          </MenuItem>
          <MenuItem>
            <button type="button" className={ITEM} onClick={() => file.current?.click()}>
              From a MIDI file …
            </button>
          </MenuItem>
          {kit && kept.strokes > 0 && (
            <MenuItem>
              <button
                type="button"
                className={ITEM}
                onClick={() => {
                  const played = grooveOfKept(kit, kept.fromMs, kept.toMs, groove?.groove.bpm ?? kit.kit.tempoBpm);
                  if (played) void add(played, 'kept what was played as');
                }}
              >
                From what I just played
              </button>
            </MenuItem>
          )}
          {groove && (
            <>
              <MenuItem>
                <button
                  type="button"
                  className={ITEM}
                  onClick={() => void add({ ...groove, groove: groove.groove }, 'copied the groove')}
                >
                  A copy of {groove.groove.name}
                </button>
              </MenuItem>
              <MenuItem>
                <button
                  type="button"
                  className={ITEM}
                  onClick={() =>
                    void commit(`removed the groove ${groove.groove.name}`, [
                      { op: 'remove', doc: 'groove', id: groove.groove.id, rev: groove.groove.rev },
                    ])
                  }
                >
                  Remove {groove.groove.name}
                </button>
              </MenuItem>
            </>
          )}
          {tempos.length > 0 && <Heading>The rhythm of</Heading>}
          {tempos.slice(0, MOST_RECORDINGS).map((recording) => (
            <MenuItem key={recording.id}>
              <button type="button" className={ITEM} onClick={() => void addRecording(recording)}>
                <span className="min-w-0 flex-1 truncate">{recording.title}</span>
                <span className="figure text-[12px] text-soft">{recording.bpm.toFixed(1)}</span>
              </button>
            </MenuItem>
          ))}
          <Heading>To begin from</Heading>
          {STARTERS.map((starter) => (
            <MenuItem key={starter.name}>
              <button
                type="button"
                className={ITEM}
                onClick={() => void add(starterGroove(starter, newId), 'took the groove')}
              >
                <span className="flex-1">{starter.name}</span>
                <span className="figure text-[12px] text-soft">{starter.bpm}</span>
              </button>
            </MenuItem>
          ))}
        </MenuItems>
      </Menu>
      <input
        ref={file}
        type="file"
        accept=".mid,.midi,audio/midi"
        hidden
        aria-label="MIDI file"
        onChange={(event) => {
          const [picked] = event.target.files ?? [];
          event.target.value = '';
          if (picked) void addMidi(picked);
        }}
      />
    </>
  );
}

function Heading({ children }: { children: string }) {
  return <p className="mt-1 border-line border-t px-2 pt-1 text-[12px] text-soft">{children}</p>;
}
