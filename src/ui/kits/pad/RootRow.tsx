'use client';

import { useState } from 'react';
import type { RecordingView, StoredHit } from '@/contract/views';
import { centsToKey, soundingHz, tunedToKey } from '@/core/kit/key';
import type { Kit, Pad } from '@/core/kit/model';
import { PAD_PARAMETERS } from '@/core/kit/parameters';
import { clip } from '@/core/parameter/values';
import { typedNote } from '@/core/pitch/typed-note';
import { centsBetween, noteToHz, pitchRatio } from '@/core/signal/units';
import { pitch } from '../../parts/figures';
import { useMiddleOctave } from '../../parts/note-names';
import { tell } from '../../parts/notice';
import { useInspected } from '../../treatment/use-inspected';
import { OffKey } from '../key/KeyView';
import { keyOf } from '../key/roots';
import type { PadEdits } from './use-pad-edits';

/** The root that a pad sounds at, and a note to type that it is tuned to. */
export function RootRow({
  pad,
  hit,
  recording,
  edits,
  kit,
}: {
  pad: Pad;
  hit: StoredHit;
  recording: RecordingView;
  edits: PadEdits;
  kit: Kit;
}) {
  const { value } = useInspected(hit, recording);
  const middle = useMiddleOctave();
  const [typed, setTyped] = useState('');
  const key = keyOf(kit);
  const rootHz = value?.figures.rootHz ?? null;
  const tune = () => {
    const note = typedNote(typed, middle);
    setTyped('');
    if (note === null) tell(`"${typed}" is no note: type a name like F#2, or a number from 0 to 127.`);
    else if (rootHz !== null) edits.set('root', tunedTo(rootHz, note));
  };
  return (
    <form
      className="flex h-[26px] items-center gap-2 border-line border-b"
      onSubmit={(event) => {
        event.preventDefault();
        tune();
      }}
    >
      <span className="w-[104px] flex-none">Root</span>
      <span className="figure w-[92px] flex-none px-1">
        {rootHz === null ? (value ? 'none' : '…') : pitch(rootHz * pitchRatio(pad.semitones, pad.cents))}
      </span>
      {rootHz !== null && (
        <label className="flex items-center gap-1 text-[12px] text-soft">
          to
          <input
            className="figure w-[56px] rounded border border-line px-1 text-ink"
            aria-label="Tune the root to"
            placeholder="note"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
            onBlur={() => setTyped('')}
          />
        </label>
      )}
      {rootHz !== null && key && (
        <OffKey
          cents={centsToKey(soundingHz(rootHz, pad, kit.transpose), key)}
          onTune={() => edits.set('root', tunedToKey(rootHz, pad, key, kit.transpose))}
        />
      )}
    </form>
  );
}

/** The tune that brings a root to a note, the cents as few as can be. */
export function tunedTo(rootHz: number, note: number): Pick<Pad, 'semitones' | 'cents'> {
  const cents = centsBetween(noteToHz(note), rootHz);
  const semitones = clip(PAD_PARAMETERS.semitones, Math.round(cents / 100));
  return { semitones, cents: clip(PAD_PARAMETERS.cents, cents - 100 * semitones, 0.1) };
}
