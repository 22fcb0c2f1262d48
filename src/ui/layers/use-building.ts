import { useEffect, useMemo, useState } from 'react';
import type { HitView, RecordingView } from '@/contract/views';
import { contentKey } from '@/core/hit/key';
import { fromDb } from '@/core/signal/units';
import type { Added, LevelsOfLayers } from '@/worker/layers';
import type { Inspected } from '@/worker/pool.worker';
import { complain } from '../parts/notice';
import { openSound, soundNow } from '../sound/open-sound';
import { answered, useAnswer } from '../sound/use-answer';

/** A change that is heard before it is taken; `name` tells which one it is. */
export interface Trial {
  readonly name: string;
  readonly of: (hit: HitView) => HitView;
  /** It is heard as loud as what it changes. */
  readonly matched?: boolean;
}

export interface Building {
  /** The hit with what is being tried. */
  readonly heard: HitView;
  readonly trial: Trial | null;
  readonly setTrial: (trial: Trial | null) => void;
  /** The last one until that of a change is there. */
  readonly added: Added | null;
  /** What mends the sum as it is; none until that is known. */
  readonly mends: Added['mends'];
  readonly levels: LevelsOfLayers | null;
  readonly inspected: Inspected | null;
  readonly repeats: boolean;
  /** Seconds between the strokes. */
  readonly lapS: number;
  readonly setRepeats: (on: boolean) => void;
  /** Sounds it once, as it is or as a given one. */
  readonly hear: (hit?: HitView) => void;
}

/** What a layered hit sounds like while it is built: figures, what is tried, and a stroke that repeats. */
export function useBuilding(hit: HitView, recording: RecordingView, tempoBpm: number): Building {
  const [trial, setTrial] = useState<Trial | null>(null);
  const [repeats, setRepeats] = useState(false);
  const heard = useMemo(() => (trial ? trial.of(hit) : hit), [trial, hit]);
  const key = contentKey(heard);
  const untried = contentKey(hit);
  const inspected = answered(useAnswer(key, (samples) => samples.inspect(heard, recording))).value;
  // Only what is tried is compared with what it changes.
  const before = answered(useAnswer(trial ? untried : null, (samples) => samples.inspect(hit, recording))).value;
  const levels = answered(useAnswer(key, (samples) => samples.layerLevels(heard, recording))).value;
  // Charted as it is, not as it is tried: what a mend gives back is seen once it is taken.
  const addition = useAnswer(untried, (samples) => samples.addition(hit, recording));
  const added = answered(addition).value;
  const matchDb = trial?.matched && inspected && before ? Math.min(0, before.figures.lufs - inspected.figures.lufs) : 0;
  const gain = Number.isFinite(matchDb) ? fromDb(matchDb) : 1;
  const lapS = 60 / tempoBpm;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key stands for the hit
  useEffect(() => {
    if (!repeats) return;
    openSound()
      .then((sound) => sound.audition.repeat({ hit: heard, recording, gain }, lapS))
      .catch((error: Error) => complain(error.message));
  }, [repeats, key, lapS, gain]);
  useEffect(() => {
    if (repeats) return () => soundNow()?.audition.stop();
  }, [repeats]);
  useEffect(() => () => soundNow()?.audition.stop(), []);
  const hear = (other: HitView = heard) => {
    if (repeats) return;
    const { startFrame, endFrame } = other;
    openSound()
      .then((sound) => sound.audition.play({ hit: other, recording, startFrame, endFrame, gain }))
      .catch((error: Error) => complain(error.message));
  };
  const mends = addition?.of === untried ? (added?.mends ?? []) : [];
  return { heard, trial, setTrial, added, mends, levels, inspected, repeats, lapS, setRepeats, hear };
}
