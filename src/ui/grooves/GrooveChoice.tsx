import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { ChevronDown } from 'lucide-react';
import { useEffect, useRef } from 'react';
import type { GrooveView } from '@/contract/views';
import { STARTERS, starterGroove } from '@/core/groove/starters';
import { getJson } from '../data/api';
import { useGroove, useTempos } from '../data/queries';
import { useKitDesk } from '../pads/kit-context';
import { GrooveActions } from './GrooveActions';
import { HeardItem } from './HeardItem';
import { offered } from './trial';
import { emptyGroove, useGrooveList } from './use-grooves';
import { useHearing } from './use-hearing';

const ITEM = 'flex w-full items-baseline gap-3 rounded px-2 py-[3px] text-left data-focus:bg-selection';
const newId = () => crypto.randomUUID();
/** So many recordings are offered; Slice offers the open one. */
const MOST_RECORDINGS = 8;

/** Opens another groove, begins a new one, or takes one in: a starter of our own, or MIDI files. */
export function GrooveChoice({ label }: { label?: string }) {
  const { addMidi } = useGrooveList();
  const file = useRef<HTMLInputElement>(null);
  return (
    <>
      <Menu>
        {({ open }) => (
          <>
            <MenuButton
              className={`${label ? 'next-button' : 'quiet-button'} inline-flex items-center gap-1`}
              aria-label={label ?? 'Grooves'}
              title="Other grooves, new ones: gone over they are heard"
            >
              {label}
              <ChevronDown size={12} aria-hidden />
            </MenuButton>
            {open && <Items onFile={() => file.current?.click()} />}
          </>
        )}
      </Menu>
      <input
        ref={file}
        type="file"
        accept=".mid,.midi,audio/midi"
        multiple
        hidden
        aria-label="MIDI file"
        onChange={(event) => {
          const picked = [...(event.target.files ?? [])];
          event.target.value = '';
          if (picked.length > 0) void addMidi(picked);
        }}
      />
    </>
  );
}

function Items({ onFile }: { onFile: () => void }) {
  const { list, openId, open, add, addRecording } = useGrooveList();
  const tempos = useTempos();
  const { view: kit } = useKitDesk();
  const { data: groove } = useGroove(openId);
  const { hear, leave, end } = useHearing();
  useEffect(() => end, [end]);
  return (
    <MenuItems
      anchor="bottom start"
      className="z-40 mt-1 w-[280px] rounded-lg border border-edge bg-sheet p-1 shadow-lg outline-none [--anchor-max-height:520px]"
    >
      {list?.map(({ id, name, bars, bpm }) => (
        <HeardItem
          key={id}
          onHear={() =>
            hear(name, () => (id === openId && groove ? groove : getJson<GrooveView>(`/api/grooves/${id}`)))
          }
          onLeave={leave}
          onTake={() => open(id)}
        >
          <span className={`min-w-0 flex-1 truncate ${id === openId ? 'font-semibold text-verdigris' : ''}`}>
            {name}
          </span>
          <span className="figure text-[12px] text-soft">
            {bars} · {bpm}
          </span>
        </HeardItem>
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
        <button type="button" className={ITEM} onClick={onFile}>
          From MIDI files …
        </button>
      </MenuItem>
      <GrooveActions className={ITEM} groove={groove ?? null} kit={kit} />
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
        <HeardItem
          key={starter.name}
          onHear={() => hear(starter.name, () => offered(starterGroove(starter, newId)))}
          onLeave={leave}
          onTake={() => void add(starterGroove(starter, newId), 'took the groove')}
        >
          <span className="flex-1">{starter.name}</span>
          <span className="figure text-[12px] text-soft">{starter.bpm}</span>
        </HeardItem>
      ))}
    </MenuItems>
  );
}

function Heading({ children }: { children: string }) {
  return <p className="mt-1 border-line border-t px-2 pt-1 text-[12px] text-soft">{children}</p>;
}
