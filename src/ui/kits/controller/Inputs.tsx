'use client';

import { useState } from 'react';
import type { KitView } from '@/contract/views';
import { noteOf, noteOfPlace } from '@/core/kit/layout';
import { typedNote } from '@/core/pitch/typed-note';
import { useCommands } from '../../data/commit';
import { useKitDesk } from '../../pads/kit-context';
import { Choice } from '../../parts/Choice';
import { setMiddleOctave, useMiddleOctave, useNoteName } from '../../parts/note-names';
import { tell } from '../../parts/notice';
import { useStore } from '../../parts/store';
import { CHOOSING, choosing, setChoosing } from '../../play/choosing';
import { channel, lastHeard, learning } from '../../play/controller';
import { type MidiState, midiState, openMidi } from '../../play/web-midi';

const CHANNELS = [
  [null, 'all channels'],
  ...Array.from({ length: 16 }, (_, i) => [i, `channel ${i + 1}`] as const),
] as const;
const LINE = 'flex min-h-[26px] items-center gap-2 border-line border-b';
const NAME = 'w-[116px] flex-none';

/** Which controllers play, on which channel, and what their strokes do besides sounding. */
export function Inputs({ view }: { view: KitView }) {
  const state = useStore(midiState);
  const heard = useStore(lastHeard);
  const listened = useStore(channel);
  const rule = useStore(choosing);
  const middle = useMiddleOctave();
  return (
    <>
      <h2 className="font-semibold text-[12px] text-soft">Controllers</h2>
      <State state={state} />
      <div className={LINE}>
        <span className={NAME}>Listens to</span>
        <Choice label="Listens to" value={listened} options={CHANNELS} onChoose={(value) => channel.set(value)} />
      </div>
      <div className={LINE}>
        <span className={NAME}>Last heard</span>
        <span className="figure min-w-0 truncate text-[12px]" data-testid="last-heard">
          {heard.count === 0 ? 'nothing yet' : heard.text}
        </span>
      </div>
      <h2 className="mt-3 font-semibold text-[12px] text-soft">Pads and notes</h2>
      <Learn view={view} />
      <div className={LINE}>
        <span className={NAME}>Strokes choose</span>
        <Choice label="Strokes choose" value={rule} options={CHOOSING} onChoose={setChoosing} />
      </div>
      <ChooseByNote view={view} />
      <div className={LINE}>
        <span className={NAME}>Note 60 is</span>
        <Choice
          label="Note 60 is"
          value={middle}
          options={[
            [4, 'C4'],
            [3, 'C3'],
          ]}
          onChoose={setMiddleOctave}
        />
      </div>
    </>
  );
}

function State({ state }: { state: MidiState }) {
  if (state.kind === 'on')
    return (
      <div className={LINE}>
        <span className={NAME}>Inputs</span>
        <span className="min-w-0 truncate">
          {state.inputs.length === 0
            ? 'none plugged in; one that comes is taken at once'
            : state.inputs.map(({ name }) => name).join(', ')}
        </span>
      </div>
    );
  return (
    <div className={LINE}>
      <span className={NAME}>Inputs</span>
      {state.kind === 'unavailable' ? (
        <p role="status" className="min-w-0 py-1 text-[12px] text-madder leading-[16px]">
          {state.why}{' '}
          <button type="button" className="text-verdigris underline" onClick={() => void openMidi()}>
            Ask again
          </button>
        </p>
      ) : (
        <button
          type="button"
          className="quiet-button"
          disabled={state.kind === 'asking'}
          onClick={() => void openMidi()}
        >
          {state.kind === 'asking' ? 'The browser asks …' : 'Connect MIDI controllers'}
        </button>
      )}
    </div>
  );
}

/** The next note that a controller plays becomes the chosen pad's. */
function Learn({ view }: { view: KitView }) {
  const { commit } = useCommands();
  const { chosen } = useKitDesk();
  const noteName = useNoteName();
  const learns = useStore(learning) !== null;
  const pad = view.pads.find(({ position }) => position === chosen);
  const learn = () => {
    if (!pad) return;
    learning.set((note) => {
      const own = note === noteOfPlace(pad.position) ? null : note;
      void commit(`learnt the note of ${pad.name}`, [
        { op: 'update', doc: 'pad', id: pad.id, rev: pad.rev, set: { note: own } },
      ]);
      tell(`${pad.name} plays on note ${note} ${noteName(note)} now.`);
    });
  };
  return (
    <div className={LINE}>
      <span className={NAME}>Chosen pad</span>
      {pad ? (
        <>
          <span className="min-w-0 truncate">{pad.name}</span>
          <span className="figure whitespace-nowrap text-[12px] text-soft">
            {noteOf(pad)} {noteName(noteOf(pad))}
          </span>
          <button
            type="button"
            className={`ml-auto whitespace-nowrap rounded px-1 hover:underline ${learns ? 'text-madder' : 'text-verdigris'}`}
            aria-pressed={learns}
            onClick={() => (learns ? learning.set(null) : learn())}
          >
            {learns ? 'Play a note …' : 'Learn its note'}
          </button>
        </>
      ) : (
        <span className="text-soft">none</span>
      )}
    </div>
  );
}

/** Chooses the pad of a note that is typed: a number, or a name. */
function ChooseByNote({ view }: { view: KitView }) {
  const { setChosen } = useKitDesk();
  const middle = useMiddleOctave();
  const [typed, setTyped] = useState('');
  return (
    <form
      className={LINE}
      onSubmit={(event) => {
        event.preventDefault();
        const note = typedNote(typed, middle);
        const pad = view.pads.find((p) => noteOf(p) === note);
        if (note === null) tell(`"${typed}" is no note: type a number from 0 to 127, or a name like F#2.`);
        else if (!pad) tell(`No pad of the kit plays on note ${note}.`);
        else setChosen(pad.position);
        setTyped('');
      }}
    >
      <label htmlFor="choose-by-note" className={NAME}>
        Choose by note
      </label>
      <input
        id="choose-by-note"
        className="figure w-[84px] rounded border border-line px-1"
        placeholder="38 or D2"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
    </form>
  );
}
