'use client';

import { useState } from 'react';
import type { RecordingView } from '@/contract/views';
import type { TreatedHit } from '@/core/hit/key';
import type { Point } from '@/core/treatment/equaliser';
import type { Inspected } from '@/worker/pool.worker';
import { EqualiserView } from './EqualiserView';
import { PitchView } from './PitchView';

interface SoundViewProps {
  readonly hit: TreatedHit;
  readonly untreated: TreatedHit;
  readonly recording: RecordingView;
  readonly was: Inspected | null;
  readonly now: Inspected | null;
  readonly seconds: number;
  /** The points of the equaliser that is chosen; null where another step is. */
  readonly points: readonly Point[] | null;
  readonly point: number;
  readonly onPoint: (index: number) => void;
  readonly onPoints: (points: readonly Point[], said: string, done: boolean) => void;
  /** Sets the root by hand; null where the subject has none of its own. */
  readonly onRoot: ((hz: number | null) => void) | null;
  /** Shows the pitch first, as where the hit is being tuned. */
  readonly pitchFirst: boolean;
}

/** The sound's spectrum, with the equaliser over it, or its pitch over time. */
export function SoundView(props: SoundViewProps) {
  const { hit, untreated, recording, was, now, seconds, points, pitchFirst, onRoot } = props;
  const [chosen, setChosen] = useState<{ readonly pitch: boolean; readonly while: string } | null>(null);
  // What was chosen by hand holds until another kind of step is chosen.
  const kind = points ? 'equaliser' : pitchFirst ? 'tune' : 'other';
  const showsPitch = onRoot !== null && (chosen?.while === kind ? chosen.pitch : pitchFirst);
  const isTreated = hit.steps.some((step) => step.active);
  return (
    <div className="relative h-full">
      {onRoot && (
        <p className="absolute top-0 left-1 z-10 flex gap-2 text-[12px]">
          {[false, true].map((pitch) => (
            <button
              key={String(pitch)}
              type="button"
              aria-pressed={showsPitch === pitch}
              className={`border-b-2 px-[2px] ${showsPitch === pitch ? 'border-verdigris font-semibold' : 'border-transparent text-soft hover:text-ink'}`}
              onClick={() => setChosen({ pitch, while: kind })}
            >
              {pitch ? 'Pitch' : 'Spectrum'}
            </button>
          ))}
        </p>
      )}
      {showsPitch ? (
        <PitchView
          {...{ hit, untreated, recording, seconds, onRoot }}
          was={(isTreated ? was : now)?.figures ?? null}
          now={now?.figures ?? null}
        />
      ) : (
        <EqualiserView
          {...{ recording, points, onPoints: props.onPoints }}
          before={isTreated ? (was?.spectrum ?? null) : null}
          after={now?.spectrum ?? null}
          chosen={props.point}
          onChoose={props.onPoint}
        />
      )}
    </div>
  );
}
