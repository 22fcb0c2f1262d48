import { useState } from 'react';
import type { HitView } from '@/contract/views';
import { type Move, movesTo, moveToScale, PITCH_CLASSES, SCALES, type ScaleName } from '@/core/pitch/intervals';
import { Choice } from '../parts/Choice';
import { minus, pitch } from '../parts/figures';
import { OctaveBeside } from './OctaveBeside';

interface TuneToProps {
  /** The hit that is tuned; null for a recording. */
  readonly hit: HitView | null;
  /** The pitch before the step, in hertz; null where none is heard. */
  readonly rootHz: number | null;
  readonly semitones: number;
  readonly cents: number;
  readonly onMove: (move: Move) => void;
}

/** Tunes to a note, up or down, or to the nearest note of a scale; says so where no pitch was found. */
export function TuneTo({ hit, rootHz, semitones, cents, onMove }: TuneToProps) {
  const [target, setTarget] = useState(9);
  const [scale, setScale] = useState<ScaleName | 'note'>('note');
  if (rootHz === null)
    return (
      <p className="border-line border-b py-1 text-[12px] text-soft">
        No pitch is heard in this hit, so it cannot be tuned to a note; semitones move it all the same. Where you hear
        one, set it under “Pitch” beside the spectrum.
      </p>
    );
  const now = rootHz * 2 ** ((semitones + cents / 100) / 12);
  const moves = scale === 'note' ? movesTo(rootHz, target) : [moveToScale(rootHz, target, scale)];
  return (
    <div className="border-line border-b py-[3px] text-[12px]">
      <p className="text-soft">
        Root <b className="figure">{pitch(rootHz)}</b>, tuned to <b className="figure">{pitch(now)}</b>
      </p>
      <p className="mt-1 flex flex-wrap items-center gap-1">
        To
        <Choice
          label="Note to tune to"
          className="h-6"
          value={target}
          options={PITCH_CLASSES.map((name, n) => [n, name] as const)}
          onChoose={setTarget}
        />
        <Choice
          label="Scale to tune to"
          className="h-6"
          value={scale}
          options={[
            ['note', 'itself'] as const,
            ...Object.keys(SCALES).map((name) => [name as ScaleName, name] as const),
          ]}
          onChoose={setScale}
        />
        {moves.map((move) => (
          <button
            key={move.semitones}
            type="button"
            className="figure h-6 whitespace-nowrap rounded border border-line px-1 hover:border-edge"
            title={`To ${pitch(rootHz * 2 ** ((move.semitones + move.cents / 100) / 12))}`}
            onClick={() => onMove(move)}
          >
            {signed(move.semitones)} st {signed(Math.round(move.cents))} c
          </button>
        ))}
        {[-12, 12].map((by) => (
          <button
            key={by}
            type="button"
            className={`h-6 rounded border border-line px-1 hover:border-edge ${by < 0 ? 'ml-auto' : ''}`}
            title={`An octave ${by < 0 ? 'lower' : 'higher'}`}
            onClick={() => onMove({ semitones: semitones + by, cents })}
          >
            {by < 0 ? '−' : '+'}8ve
          </button>
        ))}
      </p>
      {hit && <OctaveBeside hit={hit} />}
    </div>
  );
}

function signed(n: number): string {
  return minus(`${n > 0 ? '+' : ''}${n}`);
}
