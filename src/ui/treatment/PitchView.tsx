'use client';

import { useEffect, useRef, useState } from 'react';
import type { RecordingView } from '@/contract/views';
import type { TreatedHit } from '@/core/hit/key';
import { settledRoots } from '@/core/hit/root';
import { PITCH_CLASSES } from '@/core/pitch/intervals';
import { typedPitch } from '@/core/pitch/typed';
import { hzToNote, noteToHz } from '@/core/signal/units';
import { drawPitch } from '@/picture/pitch';
import { beginDrawing, useDrawing, usePalette, useSize } from '../parts/canvas';
import { pitch, sureness } from '../parts/figures';
import { nameOfNote } from '../parts/note-names';
import { complain } from '../parts/notice';
import { TextField } from '../parts/TextField';
import { tone } from '../sound/tone';
import { usePitchTrack } from './use-inspected';

interface Heard {
  readonly rootHz: number | null;
  readonly rootClarity: number;
}

interface PitchViewProps {
  readonly hit: TreatedHit;
  readonly untreated: TreatedHit;
  readonly recording: RecordingView;
  /** The pitch that was found in the sound before and after its steps. */
  readonly was: Heard | null;
  readonly now: Heard | null;
  readonly seconds: number;
  /** Null: what is found in the sound counts again. */
  readonly onRoot: (hz: number | null) => void;
}

/** The note that is struck where a hit has no pitch yet. */
const MIDDLE_C = 60;
const BUTTON = 'h-6 rounded border border-line px-[6px] hover:border-edge disabled:text-soft';

/** The pitch over time, and the root: as found, typed, struck as a note, or moved by ear against a reference tone. */
export function PitchView({ hit, untreated, recording, was, now, seconds, onRoot }: PitchViewProps) {
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width, height } = useSize(box);
  const palette = usePalette();
  const isTreated = hit.steps.some((step) => step.active);
  const before = usePitchTrack(untreated, recording, isTreated);
  const after = usePitchTrack(hit, recording, true);
  const set = settledRoots(hit);
  const settledHz = set?.now ?? now?.rootHz ?? null;
  useDrawing(() => {
    if (!canvas.current || width === 0) return;
    const ctx = beginDrawing(canvas.current, width, height);
    drawPitch(
      ctx,
      { before: isTreated ? before : null, after, settledHz, seconds, nameOf: nameOfNote },
      width,
      height,
      palette,
    );
  }, [before, after, isTreated, settledHz, seconds, width, height, palette]);
  const root = set?.was ?? was?.rootHz ?? null;
  return (
    <div className="@container flex h-full flex-col text-[12px]">
      <div ref={box} className="relative min-h-0 flex-1">
        <canvas ref={canvas} className="absolute inset-0" aria-label="Pitch over time" style={{ width, height }} />
        {after && after.length === 0 && settledHz === null && (
          <p className="absolute inset-x-2 top-8 text-center text-soft">
            No pitch is heard in this sound: it is noise, or too short. Strike a note below if you hear one.
          </p>
        )}
      </div>
      <RootRow {...{ root, was, onRoot }} isSet={set !== null} />
      <NoteRow root={root} onRoot={onRoot} />
    </div>
  );
}

function RootRow({
  root,
  was,
  isSet,
  onRoot,
}: {
  root: number | null;
  was: Heard | null;
  isSet: boolean;
  onRoot: (hz: number | null) => void;
}) {
  return (
    <p className="flex h-7 items-center gap-1 border-line border-t">
      Root
      <TextField
        label="Root of the hit"
        className="figure ml-1 h-6 w-[86px] border border-line px-1"
        value={root === null ? '' : pitch(root)}
        placeholder="none"
        maxLength={20}
        mayBeEmpty
        onCommit={(text) => {
          const hz = text === '' ? null : typedPitch(text);
          if (text !== '' && hz === null) complain(`“${text}” is no pitch: type a note (A2, C#3 +12) or hertz (110).`);
          else onRoot(hz);
        }}
      />
      <span className="figure w-[66px] text-right text-soft @max-[380px]:hidden">
        {root !== null && `${root.toFixed(1)} Hz`}
      </span>
      <button type="button" className={BUTTON} disabled={root === null} onClick={() => root && onRoot(root / 2)}>
        ½
      </button>
      <button type="button" className={BUTTON} disabled={root === null} onClick={() => root && onRoot(root * 2)}>
        ×2
      </button>
      <span className="ml-auto truncate text-soft">
        {isSet ? 'set by hand' : was && was.rootHz !== null ? `found, ${sureness(was.rootClarity)} sure` : 'none found'}
      </span>
      {isSet && (
        <button
          type="button"
          className="rounded px-1 whitespace-nowrap text-verdigris hover:underline"
          title="Drop what was set; the pitch found in the sound counts again"
          onClick={() => onRoot(null)}
        >
          as found
        </button>
      )}
    </p>
  );
}

/** Struck notes: each sounds as a tone and becomes the root; the tone goes on until it is switched off. */
function NoteRow({ root, onRoot }: { root: number | null; onRoot: (hz: number) => void }) {
  const [sounds, setSounds] = useState(false);
  useEffect(() => () => tone.stop(), []);
  useEffect(() => {
    if (sounds && root !== null) tone.tune(root);
  }, [sounds, root]);
  const { note } = hzToNote(root ?? noteToHz(MIDDLE_C));
  const strike = (hz: number) => {
    onRoot(hz);
    if (sounds) return tone.tune(hz);
    setSounds(true);
    tone.start(hz).catch((error: Error) => complain(error.message));
  };
  const nudge = (cents: number) => root !== null && onRoot(root * 2 ** (cents / 1200));
  return (
    <p className="flex h-7 items-center gap-[2px]">
      <button
        type="button"
        className={`${BUTTON} mr-1 ${sounds ? 'border-verdigris bg-selection' : ''}`}
        aria-pressed={sounds}
        disabled={root === null}
        title="A steady tone at the root, to compare the hit with"
        onClick={() => {
          setSounds(!sounds);
          if (sounds || root === null) tone.stop();
          else tone.start(root).catch((error: Error) => complain(error.message));
        }}
      >
        Tone
      </button>
      {PITCH_CLASSES.map((name, n) => (
        <button
          key={name}
          type="button"
          aria-label={`The root is ${name}`}
          className={`figure h-6 min-w-0 flex-1 rounded border border-line hover:border-edge ${
            root !== null && n === note % 12 ? 'bg-selection' : ''
          }`}
          onClick={() => strike(noteToHz(note - (note % 12) + n))}
        >
          {name}
        </button>
      ))}
      {[-10, -1, 1, 10].map((cents) => (
        <button
          key={cents}
          type="button"
          className={`${BUTTON} figure px-1 ${Math.abs(cents) === 10 ? '@max-[420px]:hidden' : ''} ${cents === -10 ? 'ml-1' : ''}`}
          aria-label={`Root ${Math.abs(cents)} cents ${cents < 0 ? 'lower' : 'higher'}`}
          title={`${Math.abs(cents)} cents ${cents < 0 ? 'lower' : 'higher'}`}
          disabled={root === null}
          onClick={() => nudge(cents)}
        >
          {cents < 0 ? '−' : '+'}
          {Math.abs(cents)}
        </button>
      ))}
    </p>
  );
}
